package tender.io.alert;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import jakarta.mail.MessagingException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import org.junit.jupiter.api.Test;
import tender.standins.mail.MailSink;

/** Word that leaves this machine: not in clear unless somebody said so, and in the form that the other side reads. */
class MailTest {
    private static final Instant NOW = Instant.parse("2026-11-23T12:00:00.123456Z");

    @Test
    void mailGoesInClearOnlyWhereThatIsSaid() throws Exception {
        try (MailSink sink = new MailSink(0)) {
            for (Mail.StartTls way : Mail.StartTls.values()) {
                Mail mail = new Mail("127.0.0.1", sink.port(), "tender@skerrivane.example", way);
                if (way == Mail.StartTls.REQUIRED) {
                    assertThatThrownBy(() -> mail.send("it@skerrivane.example", "s", "t", NOW))
                            .isInstanceOf(MessagingException.class);
                    assertThat(sink.mails()).isEmpty();
                } else {
                    mail.send("it@skerrivane.example", "s", "t", NOW);
                }
            }
        }
    }

    @Test
    void aSyslogLineHasTheFormOfRfc5424() throws Exception {
        try (DatagramSocket server = new DatagramSocket(0, InetAddress.getByName("127.0.0.1"))) {
            server.setSoTimeout(5_000);
            new Syslog(new InetSocketAddress("127.0.0.1", server.getLocalPort()))
                    .send("node-1", "journal-head", "7:00ff", NOW);
            DatagramPacket got = new DatagramPacket(new byte[500], 500);
            server.receive(got);
            assertThat(new String(got.getData(), 0, got.getLength(), StandardCharsets.US_ASCII))
                    .isEqualTo("<109>1 2026-11-23T12:00:00.123Z node-1 tender - journal-head - 7:00ff");
        }
    }
}
