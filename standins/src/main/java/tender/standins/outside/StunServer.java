package tender.standins.outside;

import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetSocketAddress;
import java.util.Arrays;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.network.IpAddress;
import tender.core.trial.Stun;

/** Tells whoever asks from which address it hears them (RFC 8489). */
public final class StunServer implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(StunServer.class);

    private final DatagramSocket socket;
    private final AtomicInteger answered = new AtomicInteger();

    public StunServer(InetSocketAddress at) throws IOException {
        socket = new DatagramSocket(at);
        Thread thread = new Thread(this::run, "stun");
        thread.setDaemon(true);
        thread.start();
    }

    private void run() {
        byte[] buffer = new byte[2_048];
        while (!socket.isClosed()) {
            try {
                DatagramPacket in = new DatagramPacket(buffer, buffer.length);
                socket.receive(in);
                Optional<byte[]> id = Stun.requested(Arrays.copyOf(in.getData(), in.getLength()));
                if (id.isPresent()) {
                    byte[] answer = Stun.answer(
                            id.get(), IpAddress.ofBytes(in.getAddress().getAddress()), in.getPort());
                    socket.send(new DatagramPacket(answer, answer.length, in.getSocketAddress()));
                    answered.incrementAndGet();
                }
            } catch (IOException e) {
                if (!socket.isClosed()) {
                    LOG.warn("{}", e.getMessage());
                }
            }
        }
    }

    /** How many were told. */
    public int answered() {
        return answered.get();
    }

    @Override
    public void close() {
        socket.close();
    }
}
