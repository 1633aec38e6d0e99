package tender.io.alert;

import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.temporal.ChronoUnit;

/** Sends one line to a syslog server over UDP (RFC 5424, RFC 5426), as a notice of the audit facility. */
public record Syslog(InetSocketAddress server) {
    private static final int AUDIT_NOTICE = 13 * 8 + 5; // RFC 5424 §6.2.1

    public void send(String host, String messageId, String line, Instant now) throws IOException {
        byte[] message = ("<" + AUDIT_NOTICE + ">1 " + now.truncatedTo(ChronoUnit.MILLIS) + " " + host + " tender - "
                        + messageId + " - " + line)
                .getBytes(StandardCharsets.US_ASCII);
        try (DatagramSocket socket = new DatagramSocket()) {
            socket.send(new DatagramPacket(message, message.length, server));
        }
    }
}
