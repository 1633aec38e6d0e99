package tender.core.openvpn;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import tender.core.credential.RevealSecret;
import tender.core.wire.MalformedException;

/**
 * A client's side of one connection, fed with packets and time: reset, TLS, keys, what is pushed, and the tunnel's packets.
 * Sends nothing by itself: {@link #toSend} gives what is to go out now. Not for use by several threads.
 */
public final class ClientSession {
    /** How far it came. */
    public enum Stage {
        /** Nothing of the server's was understood yet. */
        CALLING,
        /** The server answered the reset. */
        ANSWERED,
        /** TLS is up. */
        TRUSTED,
        /** The server took the keys, and name and password where asked. */
        EXCHANGED,
        /** Options were pushed: packets can pass. */
        UP
    }

    private static final Duration ASK_AGAIN = Duration.ofSeconds(2);
    private static final int MAX_TEXT = 65_536;
    /** Data, replies unasked, exported keys, no compression: what is understood here and nothing else. */
    private static final int IV_PROTO = 2 | 4 | 8;
    /** Begins a message between the programs in the data channel; 6 says goodbye. */
    private static final byte[] GOODBYE = {
        0x28,
        0x7f,
        0x34,
        0x6b,
        (byte) 0xd4,
        (byte) 0xef,
        0x7a,
        (byte) 0x81,
        0x2d,
        0x56,
        (byte) 0xb8,
        (byte) 0xd3,
        (byte) 0xaf,
        (byte) 0xc5,
        0x45,
        (byte) 0x9c,
        6
    };

    private final ClientSettings settings;
    private final SecureRandom random;
    private final ControlChannel control;
    private final KeyExchange exchange;
    private final ByteArrayOutputStream heard = new ByteArrayOutputStream();
    private final List<String> replies = new ArrayList<>();
    private final Deque<byte[]> received = new ArrayDeque<>();
    private TlsTunnel tls;
    private KeyExchange.Server server;
    private Pushed pushed = new Pushed(List.of());
    private DataChannel data;
    private Stage stage = Stage.CALLING;
    private Optional<String> refused = Optional.empty();
    private Optional<String> broken = Optional.empty();
    private Instant askAt = Instant.MAX;

    public ClientSession(ClientSettings settings, SecureRandom random) {
        this.settings = settings;
        this.random = random;
        this.exchange = new KeyExchange(random);
        this.control = new ControlChannel(settings.control(), random);
    }

    public Stage stage() {
        return stage;
    }

    /** What the server said when it let nobody in: {@code AUTH_FAILED} with its reason, or {@code RESTART}. */
    public Optional<String> refused() {
        return refused;
    }

    /** Why TLS cannot go on: an alert, or words that are no TLS. */
    public Optional<String> broken() {
        return broken;
    }

    /** Whether the line lost packets that were made up for, so that silence means less. */
    public boolean isLossy() {
        return control.isLossy();
    }

    public List<byte[]> serverChain() {
        return tls == null ? List.of() : tls.serverChain();
    }

    public Optional<String> tlsVersion() {
        return tls == null ? Optional.empty() : tls.version();
    }

    public boolean wasAskedForCertificate() {
        return tls != null && tls.wasAskedForCertificate();
    }

    public Pushed pushed() {
        return pushed;
    }

    /** The server's own options as it told them at the exchange of keys. */
    public String serverOptions() {
        return server == null ? "" : server.options();
    }

    /** The cipher of the data channel. */
    public Optional<String> cipher() {
        return stage == Stage.UP ? Optional.of(chosenCipher()) : Optional.empty();
    }

    /** Takes a packet of the server's. Whatever is not understood is dropped. */
    public void onPacket(byte[] packet, Instant now) {
        if (packet.length < 2) {
            return;
        }
        int opcode = (packet[0] & 0xff) >>> 3;
        try {
            if (opcode == ControlPacket.DATA_V1 || opcode == ControlPacket.DATA_V2) {
                onData(packet);
            } else {
                control.open(packet).ifPresent(p -> onControl(p, now));
            }
        } catch (MalformedException e) {
            broken = Optional.of(e.getMessage());
        }
    }

    private void onData(byte[] packet) {
        if (data == null) {
            return;
        }
        data.open(packet).flatMap(framing()::inside).ifPresent(received::add);
    }

    private void onControl(ControlPacket packet, Instant now) {
        if (packet.opcode() == ControlPacket.SERVER_RESET && stage == Stage.CALLING) {
            answered(packet);
            return;
        }
        if (!control.arrived(packet)) {
            return;
        }
        Optional<byte[]> next = control.next();
        while (next.isPresent() && broken.isEmpty()) {
            input(next.get(), now);
            next = control.next();
        }
    }

    private void answered(ControlPacket reset) {
        stage = Stage.ANSWERED;
        control.onReset(reset);
        try {
            tls = new TlsTunnel(settings.identity(), random);
            control.say(tls.output());
        } catch (IOException | RuntimeException e) {
            broken = Optional.of("TLS cannot begin: " + e.getMessage());
        }
    }

    private void input(byte[] bytes, Instant now) {
        try {
            tls.input(bytes);
            if (tls.isDone() && stage == Stage.ANSWERED) {
                stage = Stage.TRUSTED;
                if (settings.asksPassword() && settings.user().isEmpty()) {
                    // an empty login would count as a wrong one at the server
                    refused = Optional.of("no name and password were given, and no login was attempted");
                } else {
                    tls.say(message());
                }
            }
            heard.writeBytes(tls.received());
            if (heard.size() > MAX_TEXT) {
                broken = Optional.of("the server says more than a server does");
            }
            listen(now);
        } catch (IOException | RuntimeException e) {
            broken = Optional.of(tls.alertReceived()
                    .map(a -> "alert of the server: " + a)
                    .or(() -> tls.alertSent().map(a -> "what the server said is no right TLS: " + a))
                    .orElse("what the server said is not understood: " + e.getMessage()));
        }
        control.say(tls.output());
    }

    private byte[] message() {
        String cipher = settings.ciphers().get(0);
        String options = "V4,dev-type tun,link-mtu 1549,tun-mtu 1500,proto "
                + (settings.overTcp() ? "TCPv4_CLIENT" : "UDPv4") + ",cipher " + cipher + ",auth "
                + (cipher.endsWith("CBC") ? settings.digest() : "[null-digest]") + ",keysize "
                + (cipher.matches("AES-\\d+-.*") ? cipher.substring(4, 7) : "256") + ",key-method 2,tls-client";
        String peer = "IV_PLAT=linux\nIV_PROTO=" + IV_PROTO + "\nIV_NCP=2\nIV_CIPHERS="
                + String.join(":", settings.ciphers()) + "\n";
        return exchange.message(
                options,
                settings.user().map(ClientSettings.Login::name).orElse(""),
                settings.user()
                        .map(u -> u.sent(settings.asksCode()).reveal(RevealSecret.TO_HANDSHAKE))
                        .orElse(new byte[0]),
                peer);
    }

    private void listen(Instant now) throws IOException {
        if (server == null && stage == Stage.TRUSTED) {
            ByteArrayOutputStream left = new ByteArrayOutputStream();
            Optional<KeyExchange.Server> half = KeyExchange.read(heard.toByteArray(), left);
            if (half.isEmpty()) {
                return;
            }
            server = half.get();
            heard.reset();
            heard.writeBytes(left.toByteArray());
            stage = Stage.EXCHANGED;
            askAt = now;
        }
        byte[] all = heard.toByteArray();
        int from = 0;
        for (int i = 0; server != null && i < all.length; i++) {
            if (all[i] == 0) {
                told(new String(all, from, i - from, StandardCharsets.UTF_8));
                from = i + 1;
            }
        }
        heard.reset();
        heard.write(all, from, all.length - from);
    }

    /** What the server's own options say that packets are protected by; empty where the cipher does that itself. */
    public Optional<String> serverDigest() {
        return Optional.ofNullable(server)
                .map(KeyExchange.Server::options)
                .flatMap(o -> Arrays.stream(o.split(","))
                        .filter(w -> w.startsWith("auth "))
                        .findFirst())
                .map(w -> w.substring(5).strip())
                .filter(w -> !w.startsWith("["));
    }

    private void told(String message) {
        if (message.startsWith("AUTH_FAILED") || message.startsWith("RESTART") || message.startsWith("HALT")) {
            refused = Optional.of(message.substring(0, Math.min(200, message.length())));
        } else if (message.startsWith("PUSH_REPLY")) {
            replies.add(message.substring("PUSH_REPLY".length()));
            if (!message.contains("push-continuation 2")) {
                Optional<String> rejected = Pushed.rejected(replies, settings.pull());
                if (rejected.isPresent()) {
                    refused = Optional.of("the file's own pull-filter rejects " + rejected.get());
                    return;
                }
                pushed = Pushed.of(replies, settings.pull());
                up();
            }
        }
    }

    private void up() {
        byte[] keys = pushed.exportsKeys()
                ? tls.dataKeys()
                : exchange.keys(server, control.session(), control.serverSession());
        data = new DataChannel(chosenCipher(), settings.digest(), pushed.peerId(), keys, random);
        stage = Stage.UP;
        askAt = Instant.MAX;
    }

    /** What the server pushed, else what it told of itself, else the file's own. */
    private String chosenCipher() {
        return pushed.cipher().orElseGet(() -> {
            for (String option : server.options().split(",")) {
                if (option.startsWith("cipher ") && DataChannel.knows(option.substring(7))) {
                    return option.substring(7);
                }
            }
            return settings.fallback()
                    .orElse(settings.ciphers().get(settings.ciphers().size() - 1));
        });
    }

    /** Everything that is to go out now: new, unacknowledged, or an acknowledgement. */
    public List<byte[]> toSend(Instant now) {
        if (stage == Stage.EXCHANGED && settings.pull().pulls() && refused.isEmpty() && !now.isBefore(askAt)) {
            askAt = now.plus(ASK_AGAIN);
            try {
                tls.say("PUSH_REQUEST\0".getBytes(StandardCharsets.US_ASCII));
                control.say(tls.output());
            } catch (IOException e) {
                broken = Optional.of("TLS ended: " + e.getMessage());
            }
        }
        return control.toSend(now);
    }

    /** As pushed, else as the file says. */
    private Framing framing() {
        return pushed.framing().orElse(settings.framing());
    }

    /** Whether the server's tunnel carries frames of Ethernet (tap) and not packets (tun). */
    public boolean isBridged() {
        return serverOptions().contains("dev-type tap");
    }

    /** Seals an IP packet for the tunnel; only once it is up. */
    public byte[] seal(byte[] packet) {
        return data.seal(framing().around(packet));
    }

    /** The next packet that came through the tunnel. */
    public Optional<byte[]> received() {
        return Optional.ofNullable(received.poll());
    }

    /** A polite goodbye, so that the server need not wait for silence; empty where the tunnel is not up. */
    public Optional<byte[]> goodbye() {
        return stage == Stage.UP ? Optional.of(seal(GOODBYE)) : Optional.empty();
    }
}
