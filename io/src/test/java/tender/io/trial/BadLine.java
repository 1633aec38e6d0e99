package tender.io.trial;

import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.SocketAddress;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;

/** A line between two ends that loses, delays, doubles and reorders datagrams, the same way each time it is seeded alike. */
final class BadLine implements AutoCloseable {
    private final DatagramSocket outside;
    private final DatagramSocket inside;
    private final SocketAddress server;
    private final Random random;
    private final double loss;
    private final int delayMillis;
    private final boolean doubles;
    private final ScheduledExecutorService timer = Executors.newScheduledThreadPool(1);
    private final List<Thread> carriers = new ArrayList<>();
    private volatile SocketAddress caller;
    private volatile int last = Integer.MAX_VALUE;

    /** @param loss share of datagrams lost, each way */
    BadLine(InetSocketAddress server, long seed, double loss, int delayMillis, boolean doubles) throws IOException {
        this(server, new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), seed, loss, delayMillis, doubles);
    }

    /** A line that carries all, from a place of its own. */
    BadLine(InetSocketAddress server, InetSocketAddress own) throws IOException {
        this(server, own, 0, 0, 0, false);
    }

    private BadLine(
            InetSocketAddress server, InetSocketAddress own, long seed, double loss, int delayMillis, boolean doubles)
            throws IOException {
        this.server = server;
        this.random = new Random(seed);
        this.loss = loss;
        this.delayMillis = delayMillis;
        this.doubles = doubles;
        outside = new DatagramSocket(own);
        inside = new DatagramSocket();
        carry(outside);
        carry(inside);
    }

    /** The end that is called is gone once an answer of so many bytes went through. */
    BadLine goneAfter(int bytes) {
        last = bytes;
        return this;
    }

    int port() {
        return outside.getLocalPort();
    }

    private void carry(DatagramSocket from) {
        Thread thread = new Thread(
                () -> {
                    byte[] buffer = new byte[4_096];
                    while (!from.isClosed()) {
                        DatagramPacket packet = new DatagramPacket(buffer, buffer.length);
                        try {
                            from.receive(packet);
                        } catch (IOException e) {
                            return;
                        }
                        if (from == outside) {
                            caller = packet.getSocketAddress();
                        }
                        byte[] content = Arrays.copyOf(packet.getData(), packet.getLength());
                        pass(from == outside ? inside : outside, from == outside ? server : caller, content);
                    }
                },
                "bad-line");
        thread.setDaemon(true);
        thread.start();
        carriers.add(thread);
    }

    private synchronized void pass(DatagramSocket by, SocketAddress to, byte[] content) {
        if (timer.isShutdown()) {
            return; // the line was closed with a packet under way
        }
        int copies = random.nextDouble() < loss ? 0 : doubles && random.nextInt(4) == 0 ? 2 : 1;
        for (int i = 0; i < copies; i++) {
            // a different delay for each lets later ones overtake earlier ones
            long after = delayMillis == 0 ? random.nextInt(15) : delayMillis / 2 + random.nextInt(20);
            timer.schedule(
                    () -> {
                        try {
                            by.send(new DatagramPacket(content, content.length, to));
                            if (by == outside && content.length >= last) {
                                outside.close();
                            }
                        } catch (IOException e) {
                            return; // closed meanwhile
                        }
                    },
                    after,
                    TimeUnit.MILLISECONDS);
        }
    }

    @Override
    public void close() {
        outside.close();
        inside.close();
        timer.shutdownNow();
        try {
            for (Thread carrier : carriers) {
                carrier.join(2_000); // only then is the place free for the next
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
