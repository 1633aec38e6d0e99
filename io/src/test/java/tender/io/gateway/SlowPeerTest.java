package tender.io.gateway;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.credential.Secret;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.io.names.DnsNameService;

/** Devices that are there and do not speak, or speak nonsense: bounded in time, told as unreachable. */
class SlowPeerTest {
    private static final Duration BOUND = Duration.ofSeconds(25);

    private interface Peer {
        void serve(Socket socket) throws IOException;
    }

    private static void ask(Peer peer) throws Exception {
        try (ServerSocket server = new ServerSocket()) {
            server.bind(new InetSocketAddress(InetAddress.getByName("127.10.79.1"), 0));
            Thread thread = new Thread(() -> {
                try {
                    peer.serve(server.accept());
                } catch (IOException e) {
                    // the caller hung up, as it should
                }
            });
            thread.setDaemon(true);
            thread.start();
            Target target = new Target(
                    Host.parse("127.10.79.1"),
                    new Port(server.getLocalPort()),
                    "keeper",
                    new SignIn(SignIn.Method.KEY, Secret.of("")),
                    Optional.empty(),
                    DescriptionReader.shipped("plain-router"),
                    false);
            Instant from = Instant.now();
            try (SshConnector connector = new SshConnector(
                    new DnsNameService(Optional.empty()),
                    new CallableAddresses(List.of(Cidr.parse("127.10.0.0/16"))))) {
                assertThatThrownBy(() -> connector.identity(target))
                        .isInstanceOfSatisfying(
                                GatewayFailure.class,
                                f -> assertThat(f.kind()).isEqualTo(GatewayFailure.Kind.UNREACHABLE));
            }
            assertThat(Duration.between(from, Instant.now())).isLessThan(BOUND);
        }
    }

    @Test
    void aPeerThatAcceptsAndSaysNothing() throws Exception {
        ask(socket -> socket.getInputStream().readAllBytes());
    }

    @Test
    void aPeerThatSpeaksSomethingElse() throws Exception {
        ask(socket -> {
            socket.getOutputStream()
                    .write("HTTP/1.1 400 Bad Request\r\n\r\n".repeat(2_000).getBytes());
            socket.getOutputStream().flush();
            socket.getInputStream().readAllBytes();
        });
    }

    @ParameterizedTest
    @CsvSource({
        "192.0.2.1, true",
        "10.1.1.1, true",
        "2001:db8::1, true",
        "127.0.0.1, false",
        "127.10.4.1, true",
        "169.254.169.254, false",
        "::1, false",
        "fe80::1, false",
        "0.0.0.0, false"
    })
    void localAddressesAreCalledOnlyWhereListed(String address, boolean allowed) {
        assertThat(new CallableAddresses(List.of(Cidr.parse("127.10.0.0/16"))).allows(IpAddress.parse(address)))
                .isEqualTo(allowed);
    }
}
