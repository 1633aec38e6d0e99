package tender.io.names;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.standins.names.NameServer;

class DnsNameServiceTest {
    private NameServer server;
    private DnsNameService names;

    @BeforeEach
    void open() throws Exception {
        server = new NameServer(
                new InetSocketAddress(InetAddress.getLoopbackAddress(), 0),
                Map.of(
                        "pier2.skerrivane.example",
                        IpAddress.parse("192.0.2.7"),
                        "six.skerrivane.example",
                        IpAddress.parse("2001:db8::7")));
        names = new DnsNameService(Optional.of(new InetSocketAddress(InetAddress.getLoopbackAddress(), server.port())));
    }

    @AfterEach
    void close() {
        server.close();
    }

    private NameService.Answer lookUp(String name) {
        return names.lookUp(HostName.parse(name));
    }

    @Test
    void findsAddressesOfEitherFamily() {
        assertThat(lookUp("pier2.skerrivane.example").addresses()).containsExactly(IpAddress.parse("192.0.2.7"));
        assertThat(lookUp("PIER2.Skerrivane.Example.").addresses()).hasSize(1);
        assertThat(lookUp("six.skerrivane.example").addresses()).containsExactly(IpAddress.parse("2001:db8::7"));
    }

    @Test
    void tellsANameThatDoesNotExist() {
        assertThat(lookUp("pier9.skerrivane.example").status()).isEqualTo(NameService.Status.UNKNOWN);
    }

    @Test
    void seesAChangeAtOnceSinceItKeepsNoCache() {
        lookUp("pier2.skerrivane.example");
        server.put("pier2.skerrivane.example", IpAddress.parse("192.0.2.8"));

        assertThat(lookUp("pier2.skerrivane.example").addresses()).containsExactly(IpAddress.parse("192.0.2.8"));
    }

    @Test
    void aServerThatNeverAnswersIsSilentNotUnknown() throws Exception {
        try (DatagramSocket mute = new DatagramSocket(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0))) {
            DnsNameService asking = new DnsNameService(
                    Optional.of(new InetSocketAddress(InetAddress.getLoopbackAddress(), mute.getLocalPort())));
            Instant from = Instant.now();

            assertThat(asking.lookUp(HostName.parse("pier2.skerrivane.example")).status())
                    .isEqualTo(NameService.Status.SILENT);
            assertThat(Duration.between(from, Instant.now())).isLessThan(Duration.ofSeconds(15));
        }
    }
}
