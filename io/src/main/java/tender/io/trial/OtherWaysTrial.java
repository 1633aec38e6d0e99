package tender.io.trial;

import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.network.Transport;
import tender.core.openvpn.ClientSession;
import tender.core.openvpn.ClientSettings;
import tender.core.trial.OtherWays;
import tender.core.trial.Otherwise;

/**
 * Tries side by side, with a packet or two each, what else an OpenVPN file could have meant, and looks what else speaks on its
 * port. No further than the first answer: nobody is signed in.
 */
final class OtherWaysTrial {
    private static final Duration LONGEST = Duration.ofMillis(1_500);
    private static final Duration TICK = Duration.ofMillis(20);
    private static final Duration GREETING = Duration.ofMillis(500);
    private static final int MOST_BYTES = 60;

    private OtherWaysTrial() {}

    /** One way while it is tried. */
    private record Call(Otherwise told, Wire wire, ClientSession session) {}

    /** @param taken whether something took the connection over TCP */
    static Optional<Otherwise> run(ClientSettings file, InetSocketAddress to, boolean taken, SecureRandom random) {
        List<Call> calls = new ArrayList<>();
        try {
            for (OtherWays.Way way : OtherWays.of(file)) {
                try {
                    boolean tcp = way.settings().call().transport() == Transport.TCP;
                    calls.add(new Call(
                            way.told(),
                            tcp ? Wire.tcp(to, LONGEST) : Wire.udp(to),
                            new ClientSession(way.settings(), random)));
                } catch (IOException e) {
                    continue; // this way nobody is there
                }
            }
            return answered(calls).or(() -> taken ? service(to) : Optional.empty());
        } finally {
            calls.forEach(OtherWaysTrial::close);
        }
    }

    private static void close(Call call) {
        try {
            call.wire().close();
        } catch (IOException e) {
            return; // nothing is lost with it
        }
    }

    private static Optional<Otherwise> answered(List<Call> calls) {
        List<Call> open = new ArrayList<>(calls);
        long end = System.nanoTime() + LONGEST.toNanos();
        while (!open.isEmpty() && System.nanoTime() < end) {
            for (Call call : List.copyOf(open)) {
                try {
                    for (byte[] packet : call.session().toSend(Instant.now())) {
                        call.wire().send(packet);
                    }
                    Optional<byte[]> in = call.wire().receive(TICK);
                    if (in.isPresent()) {
                        call.session().onPacket(in.get(), Instant.now());
                    }
                    if (call.session().stage() != ClientSession.Stage.CALLING) {
                        return Optional.of(call.told());
                    }
                    if (call.wire().isClosed()) {
                        open.remove(call);
                    }
                } catch (IOException e) {
                    open.remove(call);
                }
            }
        }
        return Optional.empty();
    }

    /** What a service says by itself, or to a question of the web. */
    private static Optional<Otherwise> service(InetSocketAddress to) {
        try (Socket socket = new Socket()) {
            socket.connect(to, (int) LONGEST.toMillis());
            socket.setSoTimeout((int) GREETING.toMillis());
            byte[] heard = heard(socket);
            if (heard.length == 0) {
                socket.getOutputStream().write("GET / HTTP/1.0\r\n\r\n".getBytes(StandardCharsets.US_ASCII));
                heard = heard(socket);
            }
            return named(heard).map(words -> new Otherwise(Otherwise.Kind.SERVICE, words));
        } catch (IOException e) {
            return Optional.empty();
        }
    }

    private static byte[] heard(Socket socket) throws IOException {
        try {
            byte[] in = new byte[MOST_BYTES];
            int count = socket.getInputStream().read(in);
            return count <= 0 ? new byte[0] : java.util.Arrays.copyOf(in, count);
        } catch (SocketTimeoutException e) {
            return new byte[0];
        }
    }

    /** A greeting in text is told as it is; of TLS that it is TLS. */
    private static Optional<String> named(byte[] heard) {
        if (heard.length > 2 && (heard[0] == 0x15 || heard[0] == 0x16) && heard[1] == 3) {
            return Optional.of("TLS");
        }
        String line = new String(heard, StandardCharsets.US_ASCII).split("[\r\n]", 2)[0];
        return line.matches("[\\x20-\\x7e]{3,}") ? Optional.of(line) : Optional.empty();
    }
}
