package tender.core.openvpn;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import tender.core.certificate.CertificateFacts;
import tender.core.wire.MalformedException;

/**
 * A server's side of one connection, fed with packets and time: what a simulated gateway answers. As real servers do, it is
 * silent towards whoever it does not let in. Not for use by several threads.
 */
public final class OpenVpnServer {
    /** Who a server is and whom it lets in. */
    public interface Rules {
        ClientSettings.Identity identity();

        /** {@code none}, {@code auth} or {@code crypt}, with the text of the static key. */
        String controlChannelKey();

        String staticKey();

        /** Of packets where the cipher does not authenticate, and of tls-auth. */
        String digest();

        /** In the order of preference. */
        List<String> ciphers();

        boolean asksCertificate();

        boolean asksPassword();

        /** Why a certificate is not believed; empty where it is. */
        Optional<String> refuses(List<byte[]> chain);

        boolean isPassword(String user, byte[] password);

        /** What is pushed to whoever came in, address and routes included; empty where no address is left. */
        Optional<List<String>> pushes(String caller);

        /** Whether every packet begins with a byte that tells how it is squeezed; here none ever is. */
        default boolean frames() {
            return false;
        }

        /** A line for the gateway's log. */
        void log(String line);
    }

    private static final int FRAGMENT = 1_150;
    private static final int MAX_TEXT = 65_536;
    private static final int TLS_EXPORT = 8;
    private static final byte[] GOODBYE_MARK = {0x28, 0x7f, 0x34, 0x6b};

    private final Rules rules;
    private final SecureRandom random;
    private final ControlChannelProtection protection;
    private final Reliability reliability = new Reliability();
    private final KeyExchange exchange;
    private final byte[] session = new byte[ControlPacket.SESSION_BYTES];
    private final ByteArrayOutputStream heard = new ByteArrayOutputStream();
    private final Deque<byte[]> received = new ArrayDeque<>();
    private byte[] clientSession = new byte[0];
    private TlsServerTunnel tls;
    private KeyExchange.Client client;
    private DataChannel data;
    private String caller = "";
    private boolean ended;

    public OpenVpnServer(Rules rules, SecureRandom random) {
        this.rules = rules;
        this.random = random;
        this.exchange = new KeyExchange(random);
        this.protection = switch (rules.controlChannelKey()) {
            case "auth" -> ControlChannelProtection.auth(rules.staticKey(), Optional.of(0), rules.digest());
            case "crypt" -> ControlChannelProtection.cryptOfServer(rules.staticKey());
            default -> ControlChannelProtection.none();
        };
        random.nextBytes(session);
    }

    /** Whether a cipher of the data channel is one that is spoken here. */
    public static boolean knows(String cipher) {
        return DataChannel.knows(cipher);
    }

    /** Whether a packet may begin a connection: a reset that opens with this listener's protection. */
    public boolean mayBegin(byte[] packet) {
        return packet.length > 8
                && protection
                        .unwrap(packet)
                        .filter(p -> p.opcode() == ControlPacket.CLIENT_RESET)
                        .isPresent();
    }

    public boolean isUp() {
        return data != null && !ended;
    }

    /** Whether nothing more comes of it: refused, or the caller said goodbye. */
    public boolean isEnded() {
        return ended;
    }

    /** Who is connected, by certificate or account. */
    public String caller() {
        return caller;
    }

    public void onPacket(byte[] packet, Instant now) {
        if (ended || packet.length < 2) {
            return;
        }
        int opcode = (packet[0] & 0xff) >>> 3;
        try {
            if (opcode == ControlPacket.DATA_V1 || opcode == ControlPacket.DATA_V2) {
                if (data != null) {
                    data.open(packet).ifPresent(this::inside);
                }
            } else {
                protection.unwrap(packet).ifPresent(this::onControl);
            }
        } catch (MalformedException e) {
            refuse("what came is not understood: " + e.getMessage());
        }
    }

    private Framing framing() {
        return rules.frames() ? Framing.PREFIX : Framing.NONE;
    }

    private void inside(byte[] framed) {
        Optional<byte[]> bare = framing().inside(framed);
        if (bare.isEmpty()) {
            return; // compressed, or no packet
        }
        byte[] packet = bare.get();
        boolean goodbye = packet.length > 16
                && packet[16] == 6
                && Arrays.equals(Arrays.copyOf(packet, GOODBYE_MARK.length), GOODBYE_MARK);
        if (goodbye) {
            ended = true;
            rules.log("openvpn: " + caller + " said goodbye");
        } else {
            received.add(packet);
        }
    }

    private void refuse(String why) {
        ended = true;
        rules.log("openvpn: " + (caller.isEmpty() ? "" : caller + ": ") + why);
    }

    private void onControl(ControlPacket packet) {
        if (clientSession.length == 0) {
            if (packet.opcode() != ControlPacket.CLIENT_RESET) {
                return;
            }
            clientSession = packet.session();
            reliability.send(ControlPacket.SERVER_RESET, new byte[0]);
        }
        if (!Arrays.equals(packet.session(), clientSession)) {
            return;
        }
        reliability.acknowledged(packet.acks());
        if (packet.id().isEmpty() || !reliability.arrived(packet.id().get(), packet.payload())) {
            return;
        }
        Optional<byte[]> next = reliability.next();
        while (next.isPresent() && !ended) {
            if (next.get().length > 0) {
                input(next.get());
            }
            next = reliability.next();
        }
    }

    private void input(byte[] bytes) {
        try {
            if (tls == null) {
                tls = new TlsServerTunnel(rules.identity(), rules.asksCertificate(), rules::refuses, random);
            }
            tls.input(bytes);
            heard.writeBytes(tls.received());
            if (heard.size() > MAX_TEXT) {
                refuse("it says more than a caller does");
            }
            listen();
        } catch (IOException | RuntimeException e) {
            List<byte[]> chain = tls == null ? List.of() : tls.callerChain();
            if (!chain.isEmpty()) {
                caller = CertificateFacts.of(chain.get(0)).anyName().orElse("");
            }
            refuse(
                    chain.isEmpty()
                            ? "TLS handshake failed"
                            : "VERIFY ERROR: " + rules.refuses(chain).orElse(e.getMessage()));
            return;
        }
        speak();
    }

    private void listen() throws IOException {
        if (client == null && tls.isDone()) {
            ByteArrayOutputStream left = new ByteArrayOutputStream();
            Optional<KeyExchange.Client> half = KeyExchange.readClient(heard.toByteArray(), left);
            if (half.isEmpty()) {
                return;
            }
            client = half.get();
            heard.reset();
            heard.writeBytes(left.toByteArray());
            introduced();
        }
        byte[] all = heard.toByteArray();
        int from = 0;
        for (int i = 0; client != null && i < all.length; i++) {
            if (all[i] == 0) {
                if (new String(all, from, i - from, StandardCharsets.UTF_8).equals("PUSH_REQUEST")) {
                    push();
                }
                from = i + 1;
            }
        }
        heard.reset();
        heard.write(all, from, all.length - from);
    }

    private void introduced() throws IOException {
        caller = tls.callerChain().isEmpty()
                ? client.user()
                : CertificateFacts.of(tls.callerChain().get(0)).anyName().orElse("");
        tls.say(exchange.answer("V4,dev-type tun,link-mtu 1549,tun-mtu 1500,proto UDPv4,cipher "
                + rules.ciphers().get(0) + ",auth " + rules.digest() + ",keysize 256,key-method 2,tls-server"));
    }

    private Optional<String> cipher() {
        String offered = ":" + told("IV_CIPHERS").orElse(String.join(":", rules.ciphers())) + ":";
        return rules.ciphers().stream()
                .filter(c -> offered.contains(":" + c + ":"))
                .findFirst();
    }

    private Optional<String> told(String key) {
        return client.peerInfo()
                .lines()
                .filter(l -> l.startsWith(key + "="))
                .findFirst()
                .map(l -> l.substring(key.length() + 1));
    }

    private void push() throws IOException {
        if (data != null) {
            return;
        }
        if (rules.asksPassword() && (client.user().isEmpty() || !rules.isPassword(client.user(), client.password()))) {
            rules.log(
                    client.user().isEmpty()
                            ? "openvpn: Auth Username/Password was not provided by peer"
                            : "openvpn: Auth Username/Password verification failed for " + client.user());
            tls.say("AUTH_FAILED\0".getBytes(StandardCharsets.US_ASCII));
            return;
        }
        Optional<String> cipher = cipher();
        if (cipher.isEmpty()) {
            rules.log("openvpn: Data channel cipher negotiation failed (no shared cipher)");
            tls.say("AUTH_FAILED,Data channel cipher negotiation failed (no shared cipher)\0"
                    .getBytes(StandardCharsets.US_ASCII));
            return;
        }
        Optional<List<String>> pushes = rules.pushes(caller);
        if (pushes.isEmpty()) {
            refuse("no free --ifconfig-pool addresses are left");
            return;
        }
        boolean exports = told("IV_PROTO")
                .filter(v -> v.matches("\\d{1,9}"))
                .filter(v -> (Integer.parseInt(v) & TLS_EXPORT) != 0)
                .isPresent();
        byte[] keys = exports ? tls.dataKeys() : exchange.keys(client, clientSession, session);
        data = new DataChannel(cipher.get(), rules.digest(), 0, keys, false, random);
        List<String> reply = new ArrayList<>(List.of("PUSH_REPLY"));
        reply.addAll(pushes.get());
        reply.add("topology subnet");
        reply.add("peer-id 0");
        reply.add("cipher " + cipher.get());
        if (exports) {
            reply.add("key-derivation tls-ekm");
        }
        tls.say((String.join(",", reply) + "\0").getBytes(StandardCharsets.UTF_8));
        rules.log("openvpn: " + caller + " connected");
    }

    private void speak() {
        byte[] out = tls.output();
        for (int at = 0; at < out.length; at += FRAGMENT) {
            reliability.send(ControlPacket.CONTROL, Arrays.copyOfRange(out, at, Math.min(out.length, at + FRAGMENT)));
        }
    }

    /** Everything that is to go out now. */
    public List<byte[]> toSend(Instant now) {
        List<byte[]> out = new ArrayList<>();
        if (ended || clientSession.length == 0) {
            return out;
        }
        for (Reliability.Outgoing o : reliability.due(now)) {
            List<Integer> acks = reliability.takeAcknowledgements(ControlPacket.MAX_ACKS / 2);
            out.add(protection.wrap(
                    new ControlPacket(
                            o.opcode(),
                            session,
                            acks,
                            acks.isEmpty() ? Optional.empty() : Optional.of(clientSession),
                            Optional.of(o.id()),
                            o.payload()),
                    now));
        }
        while (reliability.owesAcknowledgement()) {
            out.add(protection.wrap(
                    new ControlPacket(
                            ControlPacket.ACK,
                            session,
                            reliability.takeAcknowledgements(ControlPacket.MAX_ACKS),
                            Optional.of(clientSession),
                            Optional.empty(),
                            new byte[0]),
                    now));
        }
        return out;
    }

    /** The next packet out of the tunnel. */
    public Optional<byte[]> received() {
        return Optional.ofNullable(received.poll());
    }

    public byte[] seal(byte[] packet) {
        return data.seal(framing().around(packet));
    }
}
