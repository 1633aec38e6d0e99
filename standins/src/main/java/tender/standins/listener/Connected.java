package tender.standins.listener;

import java.time.Instant;

/** One who is connected, as a device tells it. Bytes are of the tunnel's packets on the wire. */
public record Connected(
        String listener, String name, String endpoint, String address, long received, long sent, Instant since) {}
