package tender.standins.listener;

import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import tender.core.ike.MainModeResponder;

/** The outermost part of an L2TP/IPsec listener: it answers whoever begins with IKE version 1, and nobody gets further. */
public final class Ikev1Responder implements SimulatedListener {
    private static final int MARKER_BYTES = 4;
    private static final int LARGEST = 4_096;
    private static final int GROUP_2048 = 14;

    private final DatagramSocket first;
    private final DatagramSocket second;
    private final MainModeResponder port = new MainModeResponder(new SecureRandom(), GROUP_2048);

    private Ikev1Responder(DatagramSocket first, DatagramSocket second) {
        this.first = first;
        this.second = second;
        serve(first, 0);
        serve(second, MARKER_BYTES);
    }

    /** @param port 500, and {@code natPort} 4500, where the machine lets one bind them */
    public static Ikev1Responder start(InetAddress at, int port, int natPort) throws IOException {
        DatagramSocket first = Ports.datagrams(new InetSocketAddress(at, port));
        try {
            return new Ikev1Responder(first, Ports.datagrams(new InetSocketAddress(at, natPort)));
        } catch (IOException e) {
            first.close();
            throw e;
        }
    }

    private void serve(DatagramSocket socket, int marker) {
        Thread thread = new Thread(
                () -> {
                    byte[] buffer = new byte[LARGEST];
                    try {
                        while (!socket.isClosed()) {
                            DatagramPacket packet = new DatagramPacket(buffer, buffer.length);
                            socket.receive(packet);
                            Optional<byte[]> out = packet.getLength() <= marker
                                    ? Optional.empty()
                                    : port.answer(Arrays.copyOfRange(buffer, marker, packet.getLength()));
                            if (out.isPresent()) {
                                byte[] marked = new byte[marker + out.get().length];
                                System.arraycopy(out.get(), 0, marked, marker, out.get().length);
                                socket.send(new DatagramPacket(marked, marked.length, packet.getSocketAddress()));
                            }
                        }
                    } catch (IOException e) {
                        socket.close(); // closed from outside, or of no use any more
                    }
                },
                "l2tp");
        thread.setDaemon(true);
        thread.start();
    }

    public int port() {
        return first.getLocalPort();
    }

    @Override
    public List<Connected> connected() {
        return List.of();
    }

    @Override
    public void close() {
        first.close();
        second.close();
    }
}
