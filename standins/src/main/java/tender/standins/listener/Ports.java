package tender.standins.listener;

import java.io.IOException;
import java.net.BindException;
import java.net.DatagramSocket;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.SocketException;
import java.time.Duration;
import java.time.Instant;
import java.util.concurrent.locks.LockSupport;

/**
 * Sockets that listeners are reached at. A listener that is started anew binds where it closed a moment before, and the system lets go of
 * a closed socket only when the thread that read from it has woken: such a place is tried again for a while.
 */
public final class Ports {
    private static final Duration PATIENCE = Duration.ofSeconds(2);
    private static final Duration PAUSE = Duration.ofMillis(2);

    private Ports() {}

    /** Throws {@link BindException} where the place stays taken. */
    public static DatagramSocket datagrams(InetSocketAddress at) throws SocketException {
        Instant end = Instant.now().plus(PATIENCE);
        while (true) {
            try {
                return new DatagramSocket(at);
            } catch (BindException e) {
                waitOrGiveUp(end, e);
            }
        }
    }

    /** Throws {@link BindException} where the place stays taken. */
    public static ServerSocket connections(InetSocketAddress at) throws IOException {
        Instant end = Instant.now().plus(PATIENCE);
        while (true) {
            ServerSocket socket = new ServerSocket();
            try {
                socket.setReuseAddress(true);
                socket.bind(at);
                return socket;
            } catch (BindException e) {
                socket.close();
                waitOrGiveUp(end, e);
            }
        }
    }

    private static void waitOrGiveUp(Instant end, BindException e) throws BindException {
        boolean taken = e.getMessage() != null && e.getMessage().contains("in use");
        if (!taken || Instant.now().isAfter(end)) {
            throw e;
        }
        LockSupport.parkNanos(PAUSE.toNanos());
    }
}
