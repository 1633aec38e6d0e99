package tender.io.trial;

import java.io.IOException;
import java.net.StandardProtocolFamily;
import java.net.UnixDomainSocketAddress;
import java.nio.ByteBuffer;
import java.nio.channels.ServerSocketChannel;
import java.nio.channels.SocketChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** Stands between swanctl and charon, hands everything on, and hears what swanctl makes of its file (strongSwan's vici). */
final class ViciEar implements AutoCloseable {
    private static final int REQUEST = 0;

    private final ServerSocketChannel listener;
    private final Path own;
    private final Path charon;
    private final Map<String, Object> heard = Collections.synchronizedMap(new TreeMap<>());

    /** @param charon path of its socket */
    ViciEar(Path own, Path charon) throws IOException {
        this.own = own;
        this.charon = charon;
        listener = ServerSocketChannel.open(StandardProtocolFamily.UNIX);
        listener.bind(UnixDomainSocketAddress.of(own));
        Thread thread = new Thread(this::listen, "vici-ear");
        thread.setDaemon(true);
        thread.start();
    }

    String socket() {
        return "unix://" + own;
    }

    /** What was heard since the last time: settings of connections by their path with slashes; lists are lists. */
    Map<String, Object> heard() {
        Map<String, Object> out = new TreeMap<>(heard);
        heard.clear();
        return out;
    }

    private void listen() {
        while (true) {
            try (SocketChannel here = listener.accept();
                    SocketChannel there = SocketChannel.open(UnixDomainSocketAddress.of(charon))) {
                for (byte[] packet = packet(here); packet != null; packet = packet(here)) {
                    if (packet[0] == REQUEST) {
                        hear(packet);
                    }
                    send(there, packet);
                    byte[] answer = packet(there);
                    if (answer == null) {
                        break;
                    }
                    send(here, answer);
                }
            } catch (IOException e) {
                if (!listener.isOpen()) {
                    return;
                }
            }
        }
    }

    private void hear(byte[] packet) {
        int length = packet[1];
        if (!new String(packet, 2, length, StandardCharsets.US_ASCII).equals("load-conn")) {
            return;
        }
        ByteBuffer in = ByteBuffer.wrap(packet, 2 + length, packet.length - 2 - length);
        Deque<String> path = new ArrayDeque<>();
        List<String> list = new ArrayList<>();
        while (in.hasRemaining()) {
            switch (in.get()) {
                case 1 -> path.addLast(text(in, in.get() & 0xff));
                case 2 -> path.removeLast();
                case 3 -> {
                    String key = text(in, in.get() & 0xff);
                    heard.put(String.join("/", path) + "/" + key, text(in, in.getShort() & 0xffff));
                }
                case 4 -> {
                    list = new ArrayList<>();
                    heard.put(String.join("/", path) + "/" + text(in, in.get() & 0xff), list);
                }
                case 5 -> list.add(text(in, in.getShort() & 0xffff));
                default -> {
                    // a list's end
                }
            }
        }
    }

    private static String text(ByteBuffer in, int length) {
        byte[] out = new byte[length];
        in.get(out);
        return new String(out, StandardCharsets.UTF_8);
    }

    private static byte[] packet(SocketChannel from) throws IOException {
        ByteBuffer head = ByteBuffer.allocate(4);
        if (!filled(from, head)) {
            return null;
        }
        ByteBuffer body = ByteBuffer.allocate(head.flip().getInt());
        return filled(from, body) ? body.array() : null;
    }

    private static boolean filled(SocketChannel from, ByteBuffer into) throws IOException {
        while (into.hasRemaining()) {
            if (from.read(into) < 0) {
                return false;
            }
        }
        return true;
    }

    private static void send(SocketChannel to, byte[] packet) throws IOException {
        ByteBuffer out = ByteBuffer.allocate(4 + packet.length)
                .putInt(packet.length)
                .put(packet)
                .flip();
        while (out.hasRemaining()) {
            to.write(out);
        }
    }

    @Override
    public void close() throws IOException {
        listener.close();
    }
}
