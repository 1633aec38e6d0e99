package tender.io.trial;

import java.io.DataInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.SocketAddress;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Base64;
import java.util.Optional;

/** A proxy on loopback that speaks HTTP's CONNECT and SOCKS 5, for TCP and UDP; with a password where one is given. */
final class TestProxy implements AutoCloseable {
    private final ServerSocket server = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
    private final Optional<String> login;
    private final boolean refuses;

    /** @param login {@code NAME:PASSWORD} */
    TestProxy(Optional<String> login, boolean refuses) throws IOException {
        this.login = login;
        this.refuses = refuses;
        begin(() -> {
            while (!server.isClosed()) {
                Socket caller = server.accept();
                begin(() -> serve(caller));
            }
        });
    }

    int port() {
        return server.getLocalPort();
    }

    private interface Work {
        void run() throws IOException;
    }

    private static void begin(Work work) {
        Thread thread = new Thread(
                () -> {
                    try {
                        work.run();
                    } catch (IOException e) {
                        return; // somebody hung up
                    }
                },
                "test-proxy");
        thread.setDaemon(true);
        thread.start();
    }

    private void serve(Socket caller) throws IOException {
        try (caller) {
            DataInputStream in = new DataInputStream(caller.getInputStream());
            int first = in.readUnsignedByte();
            if (first == 5) {
                socks(caller, in);
            } else {
                http(caller, in, (char) first);
            }
        }
    }

    private void http(Socket caller, DataInputStream in, char first) throws IOException {
        StringBuilder head = new StringBuilder().append(first);
        while (!head.toString().endsWith("\r\n\r\n")) {
            head.append((char) in.readUnsignedByte());
        }
        String wanted = login.map(
                        l -> "Basic " + Base64.getEncoder().encodeToString(l.getBytes(StandardCharsets.UTF_8)))
                .orElse("");
        boolean known = login.isEmpty() || head.toString().contains("Proxy-Authorization: " + wanted);
        String answer = refuses ? "403 Forbidden" : known ? "200 OK" : "407 Proxy Authentication Required";
        caller.getOutputStream().write(("HTTP/1.1 " + answer + "\r\n\r\n").getBytes(StandardCharsets.US_ASCII));
        if (answer.startsWith("200")) {
            String[] place = head.toString().split(" ")[1].split(":");
            carry(caller, new Socket(place[0], Integer.parseInt(place[1])));
        }
    }

    private void socks(Socket caller, DataInputStream in) throws IOException {
        OutputStream out = caller.getOutputStream();
        byte[] ways = in.readNBytes(in.readUnsignedByte());
        if (login.isPresent()) {
            boolean can = new String(ways, StandardCharsets.ISO_8859_1).indexOf(2) >= 0;
            out.write(new byte[] {5, (byte) (can ? 2 : 0xff)});
            if (!can) {
                return;
            }
            in.readUnsignedByte();
            String name = new String(in.readNBytes(in.readUnsignedByte()), StandardCharsets.UTF_8);
            String password = new String(in.readNBytes(in.readUnsignedByte()), StandardCharsets.UTF_8);
            boolean right = login.get().equals(name + ":" + password);
            out.write(new byte[] {1, (byte) (right ? 0 : 1)});
            if (!right) {
                return;
            }
        } else {
            out.write(new byte[] {5, 0});
        }
        in.readUnsignedByte();
        int command = in.readUnsignedByte();
        in.readUnsignedByte();
        InetSocketAddress target = place(in);
        if (refuses) {
            out.write(new byte[] {5, 2, 0, 1, 0, 0, 0, 0, 0, 0});
        } else if (command == 1) {
            out.write(new byte[] {5, 0, 0, 1, 0, 0, 0, 0, 0, 0});
            carry(caller, new Socket(target.getAddress(), target.getPort()));
        } else {
            relay(caller, in, out);
        }
    }

    private static InetSocketAddress place(DataInputStream in) throws IOException {
        int kind = in.readUnsignedByte();
        byte[] host = in.readNBytes(kind == 1 ? 4 : kind == 4 ? 16 : in.readUnsignedByte());
        InetAddress address = kind == 3
                ? InetAddress.getByName(new String(host, StandardCharsets.US_ASCII))
                : InetAddress.getByAddress(host);
        return new InetSocketAddress(address, in.readUnsignedShort());
    }

    private static void carry(Socket caller, Socket server) throws IOException {
        try (server) {
            begin(() -> server.getInputStream().transferTo(caller.getOutputStream()));
            caller.getInputStream().transferTo(server.getOutputStream());
        }
    }

    private static void relay(Socket caller, InputStream in, OutputStream out) throws IOException {
        try (DatagramSocket near = new DatagramSocket(0, InetAddress.getLoopbackAddress());
                DatagramSocket far = new DatagramSocket()) {
            out.write(ByteBuffer.allocate(10)
                    .put(new byte[] {5, 0, 0, 1, 0, 0, 0, 0})
                    .putShort((short) near.getLocalPort())
                    .array());
            SocketAddress[] asker = new SocketAddress[1];
            begin(() -> {
                while (true) {
                    DatagramPacket p = new DatagramPacket(new byte[4_096], 4_096);
                    near.receive(p);
                    asker[0] = p.getSocketAddress();
                    byte[] b = Arrays.copyOf(p.getData(), p.getLength());
                    InetSocketAddress to = new InetSocketAddress(
                            InetAddress.getByAddress(Arrays.copyOfRange(b, 4, 8)),
                            ByteBuffer.wrap(b, 8, 2).getShort() & 0xffff);
                    far.send(new DatagramPacket(b, 10, b.length - 10, to));
                }
            });
            begin(() -> {
                while (true) {
                    DatagramPacket p = new DatagramPacket(new byte[4_096], 4_096);
                    far.receive(p);
                    byte[] b = ByteBuffer.allocate(10 + p.getLength())
                            .put(new byte[] {0, 0, 0, 1})
                            .put(p.getAddress().getAddress())
                            .putShort((short) p.getPort())
                            .put(p.getData(), 0, p.getLength())
                            .array();
                    near.send(new DatagramPacket(b, b.length, asker[0]));
                }
            });
            in.transferTo(OutputStream.nullOutputStream()); // until the caller hangs up
        }
    }

    @Override
    public void close() throws IOException {
        server.close();
    }
}
