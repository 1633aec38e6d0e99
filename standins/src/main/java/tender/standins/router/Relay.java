package tender.standins.router;

import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetSocketAddress;
import java.net.SocketAddress;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.Map;
import tender.standins.listener.Ports;

/** A forward for datagrams: what comes in at a port of the router is carried to a machine behind it, and answers back. */
final class Relay implements AutoCloseable {
    private static final int MOST_CALLERS = 64;
    private static final int LARGEST = 65_535;

    private final DatagramSocket port;
    private final SocketAddress target;
    private final Map<SocketAddress, DatagramSocket> callers = new LinkedHashMap<>();

    Relay(InetSocketAddress at, InetSocketAddress target) throws IOException {
        this.port = Ports.datagrams(at);
        this.target = target;
        carry(port, this::inward);
    }

    private interface Step {
        void pass(DatagramPacket packet) throws IOException;
    }

    private static void carry(DatagramSocket from, Step step) {
        Thread thread = new Thread(
                () -> {
                    byte[] buffer = new byte[LARGEST];
                    try {
                        while (!from.isClosed()) {
                            DatagramPacket packet = new DatagramPacket(buffer, buffer.length);
                            from.receive(packet);
                            step.pass(packet);
                        }
                    } catch (IOException e) {
                        from.close(); // closed from outside, or of no use any more
                    }
                },
                "forward");
        thread.setDaemon(true);
        thread.start();
    }

    private void inward(DatagramPacket packet) throws IOException {
        caller(packet.getSocketAddress())
                .send(new DatagramPacket(
                        Arrays.copyOf(packet.getData(), packet.getLength()), packet.getLength(), target));
    }

    /** The socket that speaks for a caller; the one that came first goes when there are too many. */
    private synchronized DatagramSocket caller(SocketAddress from) throws IOException {
        DatagramSocket known = callers.get(from);
        if (known != null && !known.isClosed()) {
            return known;
        }
        if (callers.size() >= MOST_CALLERS) {
            callers.remove(callers.keySet().iterator().next()).close();
        }
        DatagramSocket fresh = new DatagramSocket();
        callers.put(from, fresh);
        carry(
                fresh,
                answer -> port.send(new DatagramPacket(
                        Arrays.copyOf(answer.getData(), answer.getLength()), answer.getLength(), from)));
        return fresh;
    }

    @Override
    public synchronized void close() {
        port.close();
        callers.values().forEach(DatagramSocket::close);
    }
}
