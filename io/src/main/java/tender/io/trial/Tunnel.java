package tender.io.trial;

import java.io.IOException;
import java.time.Duration;
import java.util.Optional;
import tender.core.network.IpAddress;

/** A tunnel that is up, as whoever sends packets into it sees it. */
interface Tunnel {
    /** The own address inside. */
    Optional<IpAddress> source(IpAddress.Family family);

    void send(byte[] packet) throws IOException;

    /** Waits at most so long for something to come, and sends what the connection itself has to say. */
    void pump(Duration wait) throws IOException;

    /** The next packet that came through. */
    Optional<byte[]> received();

    boolean isClosed();
}
