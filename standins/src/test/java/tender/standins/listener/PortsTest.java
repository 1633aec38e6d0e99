package tender.standins.listener;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.net.BindException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.util.concurrent.CountDownLatch;
import org.junit.jupiter.api.Test;

class PortsTest {
    private static final int TIMES = 200;

    private static InetSocketAddress at(int port) throws IOException {
        return new InetSocketAddress(InetAddress.getByName("127.15.9.9"), port);
    }

    @Test
    void aPlaceIsTakenAnewWhileItsReaderStillWakes() throws Exception {
        int port = 0;
        for (int i = 0; i < TIMES; i++) {
            DatagramSocket socket = Ports.datagrams(at(port));
            port = socket.getLocalPort();
            CountDownLatch reads = new CountDownLatch(1);
            Thread reader = new Thread(() -> {
                try {
                    while (true) {
                        socket.receive(new DatagramPacket(new byte[1], 1));
                        reads.countDown();
                    }
                } catch (IOException e) {
                    reads.countDown();
                }
            });
            reader.start();
            try (DatagramSocket caller = new DatagramSocket()) {
                caller.send(new DatagramPacket(new byte[1], 1, at(port)));
            }
            reads.await();
            Thread.yield(); // back into its reading, most times
            socket.close();
        }
        assertThat(port).isPositive();
    }

    @Test
    void aPlaceThatStaysTakenIsRefused() throws IOException {
        try (ServerSocket first = Ports.connections(at(0))) {
            assertThatThrownBy(() -> Ports.connections(at(first.getLocalPort())).close())
                    .isInstanceOf(BindException.class);
        }
    }
}
