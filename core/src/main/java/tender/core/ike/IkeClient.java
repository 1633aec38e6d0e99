package tender.core.ike;

import java.nio.ByteBuffer;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import org.bouncycastle.cert.X509CertificateHolder;
import tender.core.credential.RevealSecret;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.wire.MalformedException;

/**
 * A client's side of one connection, fed with packets and time: the first exchange with cookies and another group where the
 * server wants them, who is who, the tunnel. Always asks for ESP in UDP, which needs no rights on the machine. Sends nothing
 * by itself: {@link #toSend} gives what is to go out now. Not for use by several threads.
 */
public final class IkeClient {
    /** How far it came. */
    public enum Stage {
        /** Nothing of the server's was understood yet. */
        CALLING,
        /** The first exchange is done: keys are agreed. */
        ANSWERED,
        /** The server proved itself. */
        TRUSTED,
        /** The tunnel is there: packets can pass. */
        UP
    }

    /** A packet, and whether it goes to the port for NAT. */
    public record Sent(byte[] bytes, boolean onNatPort) {}

    private static final byte[] MARKER = new byte[4];
    private static final byte[] NONE = new byte[8];
    private static final int TRIES = 6;
    private static final int RESTARTS = 3;
    private static final Duration FIRST_WAIT = Duration.ofMillis(500);
    private static final int[] HASHES = {2, 3, 4, 5};

    private final IkeSettings settings;
    private final SecureRandom random;
    private final byte[] spiI;
    private final byte[] nonce;
    private final byte[] tunnelSpi;
    private final List<Proposal> offered;
    private final Deque<byte[]> received = new ArrayDeque<>();
    private final Deque<Sent> answers = new ArrayDeque<>();
    private final List<byte[]> serverChain = new ArrayList<>();
    private final SealedMessage reader = new SealedMessage();
    private byte[] spiR = NONE;
    private Agreement agreement;
    private byte[] cookie = new byte[0];
    private byte[] firstRequest;
    private byte[] firstResponse;
    private byte[] serverNonce = new byte[0];
    private byte[] serverId = new byte[0];
    private byte[] ownId = new byte[0];
    private Keys keys;
    private Proposal suite;
    private Proposal tunnelSuite;
    private EspTunnel tunnel;
    private Eap eap;
    private boolean modern;
    private boolean fragments;
    private boolean proofHolds;
    private boolean natBefore;
    private Optional<byte[]> natSource = Optional.empty();
    private Stage stage = Stage.CALLING;
    private Optional<String> refused = Optional.empty();
    private Optional<String> broken = Optional.empty();
    private Assigned assigned = Assigned.NOTHING;
    private List<Cidr> reach = List.of();
    private List<Sent> request = List.of();
    private int expected;
    private int tries;
    private int restarts;
    private int lost;
    private Instant again = Instant.MIN;

    public IkeClient(IkeSettings settings, SecureRandom random) {
        this.settings = settings;
        this.random = random;
        this.spiI = Bytes.random(random, 8);
        this.nonce = Bytes.random(random, 32);
        this.tunnelSpi = Bytes.random(random, 4);
        tunnelSpi[0] |= 0x10; // the first 256 values mean something else
        this.offered = settings.ike();
        begin(offered.get(0).need(Transform.GROUP).id());
    }

    public Stage stage() {
        return stage;
    }

    /** What the server said when it let nobody in: a notify's name, or EAP's words. */
    public Optional<String> refused() {
        return refused;
    }

    /** Why it cannot go on: words that are no IKE, or a proof that does not hold. */
    public Optional<String> broken() {
        return broken;
    }

    /** The server's certificates, its own first. */
    public List<byte[]> serverChain() {
        return List.copyOf(serverChain);
    }

    /** Who the server says it is. */
    public Optional<Identification> serverId() {
        return serverId.length == 0 ? Optional.empty() : Optional.of(Identification.read(serverId));
    }

    /** Whether the server's proof was made with the key of its certificate, or with the shared secret. */
    public boolean proofHolds() {
        return proofHolds;
    }

    /** Algorithms of the connection and of its tunnel, for people. */
    public Optional<String> algorithms() {
        return Optional.ofNullable(tunnelSuite)
                .or(() -> Optional.ofNullable(suite))
                .map(Proposal::words);
    }

    /** Whether the server itself stands behind a network address translation. */
    public boolean serverBehindNat() {
        return natBefore;
    }

    public Assigned assigned() {
        return assigned;
    }

    /** Networks that the server lets through the tunnel. */
    public List<Cidr> reach() {
        return reach;
    }

    /** Whether requests had to be sent again. */
    public boolean isLossy() {
        return lost > 0;
    }

    private void begin(int group) {
        agreement = Agreement.begin(group, random);
        List<Payload> payloads = new ArrayList<>();
        if (cookie.length > 0) {
            payloads.add(Notify.of(Notify.COOKIE, cookie));
        }
        payloads.add(new Payload(Payload.SA, Proposal.encode(offered)));
        payloads.add(new Payload(
                Payload.KEY_EXCHANGE,
                Bytes.join(
                        ByteBuffer.allocate(4)
                                .putShort((short) group)
                                .putShort((short) 0)
                                .array(),
                        agreement.publicValue())));
        payloads.add(new Payload(Payload.NONCE, nonce));
        // values that fit no address make the server take ESP in UDP
        payloads.add(Notify.of(Notify.NAT_SOURCE, Bytes.random(random, 20)));
        payloads.add(Notify.of(Notify.NAT_DESTINATION, Bytes.random(random, 20)));
        payloads.add(Notify.of(Notify.FRAGMENTATION, new byte[0]));
        payloads.add(hashes());
        firstRequest = Message.plain(spiI, NONE, Message.SA_INIT, Message.FROM_INITIATOR, 0, payloads);
        expected = 0;
        ask(List.of(firstRequest));
    }

    static Payload hashes() {
        ByteBuffer out = ByteBuffer.allocate(2 * HASHES.length);
        for (int hash : HASHES) {
            out.putShort((short) hash);
        }
        return Notify.of(Notify.SIGNATURE_HASHES, out.array());
    }

    private void ask(List<byte[]> packets) {
        boolean nat = settings.onlyNatPort() || keys != null;
        request = packets.stream()
                .map(p -> new Sent(nat ? Bytes.join(MARKER, p) : p, nat))
                .toList();
        tries = 0;
        again = Instant.MIN;
    }

    /** Everything that is to go out now. */
    public List<Sent> toSend(Instant now) {
        List<Sent> out = new ArrayList<>(answers);
        answers.clear();
        if (!request.isEmpty() && !now.isBefore(again) && tries < TRIES) {
            lost += tries > 0 ? 1 : 0;
            again = now.plus(FIRST_WAIT.multipliedBy(1L << Math.min(tries, 2)));
            tries++;
            out.addAll(request);
        }
        return out;
    }

    /** Takes a packet of the server's. Whatever is not understood is dropped. */
    public void onPacket(byte[] packet, boolean fromNatPort) {
        try {
            byte[] bytes = packet;
            if (fromNatPort) {
                boolean marked =
                        packet.length > 4 && packet[0] == 0 && packet[1] == 0 && packet[2] == 0 && packet[3] == 0;
                if (!marked) {
                    if (tunnel != null) {
                        tunnel.open(packet).ifPresent(received::add);
                    }
                    return;
                }
                bytes = Arrays.copyOfRange(packet, 4, packet.length);
            }
            onMessage(Message.read(bytes));
        } catch (MalformedException e) {
            // from anywhere; the right answer may still come
            if (stage != Stage.CALLING && e.place().equals("own")) {
                broken = Optional.of(e.getMessage());
            }
        }
    }

    private void onMessage(Message m) {
        if (!Arrays.equals(m.spiI(), spiI)) {
            return;
        }
        if (refused.isPresent() || broken.isPresent()) {
            // nothing changes any more; only whether the server still works on what it was sent last
            if (m.isResponse() && m.id() == expected) {
                request = List.of();
            }
            return;
        }
        if (!m.isResponse()) {
            asked(m);
            return;
        }
        if (m.id() != expected || request.isEmpty()) {
            return;
        }
        if (m.exchange() == Message.SA_INIT && stage == Stage.CALLING) {
            first(m);
        } else if (m.exchange() == Message.AUTH && keys != null && Arrays.equals(m.spiR(), spiR)) {
            reader.read(m, keys.sealer(false)).ifPresent(this::authenticated);
        }
    }

    private void first(Message m) {
        List<Payload> payloads = m.payloads();
        Optional<Notify> asksCookie = Notify.one(payloads, Notify.COOKIE);
        if (asksCookie.isPresent() && Message.one(payloads, Payload.SA).isEmpty()) {
            boolean old = Arrays.equals(cookie, asksCookie.get().data()); // the line doubled an answer
            if (!old && restarts++ < RESTARTS) {
                cookie = asksCookie.get().data();
                begin(agreement.group());
            }
            return;
        }
        Optional<Notify> refusal = Notify.refusal(payloads);
        if (refusal.isPresent()) {
            byte[] data = refusal.get().data();
            boolean other = refusal.get().type() == Notify.INVALID_KE && data.length == 2;
            int group = other ? (data[0] & 0xff) << 8 | data[1] & 0xff : 0;
            if (other && group == agreement.group()) {
                return; // answers what was asked before this group was taken; the line doubled or held it
            }
            boolean ours =
                    offered.stream().anyMatch(p -> p.transforms().contains(new Transform(Transform.GROUP, group, 0)));
            if (other && ours && restarts++ < RESTARTS) {
                begin(group);
            } else {
                request = List.of();
                refused = Optional.of(refusal.get().name());
            }
            return;
        }
        Proposal chosen = Message.one(payloads, Payload.SA)
                .map(p -> Proposal.decode(p.body()))
                .filter(all -> all.size() == 1)
                .map(all -> all.get(0))
                .filter(c -> offered.stream().anyMatch(o -> c.chosenBy(o).isPresent()))
                .orElseThrow(() -> new MalformedException("proposal", "", "the server chose what was not offered"));
        byte[] exchange = Message.one(payloads, Payload.KEY_EXCHANGE)
                .orElseThrow(IkeClient::incomplete)
                .body();
        serverNonce = Message.one(payloads, Payload.NONCE)
                .orElseThrow(IkeClient::incomplete)
                .body();
        boolean sameGroup = exchange.length > 4
                && ((exchange[0] & 0xff) << 8 | exchange[1] & 0xff) == agreement.group()
                && chosen.need(Transform.GROUP).id() == agreement.group();
        if (!sameGroup || serverNonce.length < 16 || serverNonce.length > 256) {
            throw incomplete();
        }
        byte[] shared = agreement.agree(Arrays.copyOfRange(exchange, 4, exchange.length));
        spiR = m.spiR();
        suite = chosen;
        keys = new Keys(chosen, shared, Bytes.join(nonce, serverNonce), Bytes.join(spiI, spiR), random);
        firstResponse = m.raw();
        modern = Notify.one(payloads, Notify.SIGNATURE_HASHES).isPresent();
        fragments = Notify.one(payloads, Notify.FRAGMENTATION).isPresent();
        natSource = Notify.one(payloads, Notify.NAT_SOURCE).map(Notify::data);
        stage = Stage.ANSWERED;
        introduce();
    }

    /** Told where the server was called, so that its own word on its address can be held against it (RFC 7296 §2.23). */
    public void calledAt(IpAddress address, int port) {
        byte[] here = Prf.hashed(
                "SHA1",
                spiI,
                spiR,
                address.toBytes(),
                ByteBuffer.allocate(2).putShort((short) port).array());
        natBefore = natSource.filter(said -> !Arrays.equals(said, here)).isPresent();
    }

    private static MalformedException incomplete() {
        return new MalformedException("message", "", "the server's first message lacks a part");
    }

    private void introduce() {
        List<Payload> out = new ArrayList<>();
        boolean account = settings.proof().startsWith("eap");
        ownId = (settings.identity().isPresent()
                        ? Identification.parse(settings.identity().get())
                        : account || settings.chain().isEmpty()
                                ? Identification.parse(settings.user().orElse("client"))
                                : Identification.ofSubject(settings.chain().get(0)))
                .body();
        out.add(new Payload(Payload.ID_INITIATOR, ownId));
        if (settings.proof().equals("pubkey")) {
            for (byte[] der : settings.chain()) {
                out.add(new Payload(Payload.CERTIFICATE, Bytes.join(new byte[] {4}, der)));
            }
        }
        if (!settings.authorities().isEmpty()) {
            out.add(certificateRequest(settings.authorities()));
        }
        settings.server()
                .ifPresent(s -> out.add(new Payload(
                        Payload.ID_RESPONDER, Identification.parse(s).body())));
        if (!account) {
            out.add(prove().payload());
        } else {
            eap = new Eap(
                    settings.user().orElse(""),
                    settings.secret()
                            .map(s -> s.revealText(RevealSecret.TO_HANDSHAKE))
                            .orElse(""),
                    random);
        }
        out.addAll(tunnelWanted());
        say(1, out);
    }

    static Payload certificateRequest(List<byte[]> authorities) {
        byte[][] digests = authorities.stream()
                .map(der -> {
                    try {
                        return Prf.hashed(
                                "SHA1",
                                new X509CertificateHolder(der)
                                        .getSubjectPublicKeyInfo()
                                        .getEncoded());
                    } catch (java.io.IOException e) {
                        throw new MalformedException("certificate", "", "the authority's certificate cannot be read");
                    }
                })
                .toArray(byte[][]::new);
        return new Payload(Payload.CERTIFICATE_REQUEST, Bytes.join(new byte[] {4}, Bytes.join(digests)));
    }

    private byte[] octets(boolean initiator) {
        return Proof.octets(
                initiator ? firstRequest : firstResponse,
                initiator ? serverNonce : nonce,
                keys.prf(),
                keys.proof(initiator),
                initiator ? ownId : serverId);
    }

    private Proof prove() {
        if (settings.proof().equals("psk")) {
            return Proof.shared(keys.prf(), sharedSecret(), octets(true));
        }
        return Proof.signed(settings.key().orElseThrow(), octets(true), modern);
    }

    private byte[] sharedSecret() {
        return settings.secret()
                .map(s -> s.reveal(RevealSecret.TO_HANDSHAKE))
                .orElseThrow(() -> new MalformedException("secret", "own", "the shared secret was not given"));
    }

    private List<Payload> tunnelWanted() {
        List<Cidr> to = settings.reach().isEmpty() ? List.of(Cidr.EVERYTHING_V4) : settings.reach();
        List<Cidr> from = settings.v6() ? List.of(Cidr.EVERYTHING_V4, Cidr.EVERYTHING_V6) : List.of(Cidr.EVERYTHING_V4);
        return List.of(
                Assigned.request(true, settings.v6()),
                new Payload(
                        Payload.SA,
                        Proposal.encode(Proposal.parse(Proposal.ESP, settings.tunnelProposals(), tunnelSpi))),
                new Payload(Payload.SELECTORS_INITIATOR, Selectors.encode(from)),
                new Payload(Payload.SELECTORS_RESPONDER, Selectors.encode(to)));
    }

    private void say(int id, List<Payload> payloads) {
        expected = id;
        ask(SealedMessage.write(
                keys.sealer(true), spiI, spiR, Message.AUTH, Message.FROM_INITIATOR, id, payloads, fragments));
    }

    private void authenticated(List<Payload> payloads) {
        Optional<Notify> refusal = Notify.refusal(payloads);
        boolean first = serverId.length == 0;
        Message.one(payloads, Payload.ID_RESPONDER).ifPresent(p -> serverId = p.body());
        payloads.stream()
                .filter(p -> p.type() == Payload.CERTIFICATE && p.body().length > 1 && p.body()[0] == 4)
                .forEach(p -> serverChain.add(Arrays.copyOfRange(p.body(), 1, p.body().length)));
        Optional<Proof> proof = Message.one(payloads, Payload.AUTHENTICATION).map(Proof::read);
        if (proof.isPresent() && serverId.length > 0) {
            proofHolds = holds(proof.get(), first);
            if (!proofHolds) {
                request = List.of();
                broken = Optional.of(notHeld(proof.get(), first));
                return;
            }
            stage = Stage.TRUSTED;
        }
        if (refusal.isPresent() && Message.one(payloads, Payload.SA).isEmpty()) {
            request = List.of();
            refused = eap != null && eap.refused().isPresent()
                    ? eap.refused()
                    : Optional.of(refusal.get().name());
            return;
        }
        Optional<Payload> more = Message.one(payloads, Payload.EAP);
        if (more.isPresent()) {
            onEap(more.get().body());
            return;
        }
        up(payloads);
    }

    private String notHeld(Proof proof, boolean first) {
        boolean secret = proof.method() == Proof.SHARED;
        boolean wanted = settings.serverProof().equals("psk");
        if (first && secret != wanted) {
            return secret
                    ? "the server proves itself by a shared secret, the file wants a certificate"
                    : "the server proves itself by a certificate, the file wants a shared secret";
        }
        return secret && first
                ? "the server proves itself by another secret"
                : "the server's proof was not made with the key of its certificate";
    }

    private boolean holds(Proof proof, boolean first) {
        if (eap != null && !first) {
            return same(proof, Proof.shared(keys.prf(), eap.key(), octets(false)));
        }
        if (proof.method() == Proof.SHARED) {
            return settings.serverProof().equals("psk")
                    && same(proof, Proof.shared(keys.prf(), sharedSecret(), octets(false)));
        }
        return !settings.serverProof().equals("psk")
                && !serverChain.isEmpty()
                && proof.isBy(serverChain.get(0), octets(false));
    }

    private static boolean same(Proof a, Proof b) {
        return a.method() == b.method() && java.security.MessageDigest.isEqual(a.data(), b.data());
    }

    private void onEap(byte[] packet) {
        if (eap == null) {
            request = List.of();
            refused = Optional.of("the server wants a name and password (EAP)");
            return;
        }
        if (settings.secret().isEmpty()) {
            // an empty password would count as a wrong one at the server
            request = List.of();
            refused = Optional.of("no password was given, and no login was attempted");
            return;
        }
        Optional<byte[]> answer = eap.onPacket(packet);
        if (answer.isPresent()) {
            say(expected + 1, List.of(new Payload(Payload.EAP, answer.get())));
            if (eap.refused().filter(r -> r.startsWith("EAP: ")).isPresent()) {
                refused = eap.refused();
            }
        } else if (eap.isDone() && eap.refused().isEmpty()) {
            say(
                    expected + 1,
                    List.of(Proof.shared(keys.prf(), eap.key(), octets(true)).payload()));
        } else {
            request = List.of();
            refused = eap.refused().or(() -> Optional.of("EAP ended without a key"));
        }
    }

    private void up(List<Payload> payloads) {
        Proposal chosen = Message.one(payloads, Payload.SA)
                .map(p -> Proposal.decode(p.body()))
                .filter(all -> all.size() == 1 && all.get(0).spi().length == 4)
                .map(all -> all.get(0))
                .orElseThrow(() -> new MalformedException("tunnel", "own", "the server gave no tunnel"));
        if (!chosen.transforms().stream().allMatch(Transform::isKnown)) {
            throw new MalformedException("tunnel", "own", "the server chose algorithms that were not offered");
        }
        assigned =
                Message.one(payloads, Payload.CONFIGURATION).map(Assigned::read).orElse(Assigned.NOTHING);
        reach = Message.one(payloads, Payload.SELECTORS_RESPONDER)
                .map(p -> Selectors.decode(p.body()))
                .orElse(List.of());
        tunnelSuite = chosen;
        Sealer[] both = keys.tunnel(chosen, Bytes.join(nonce, serverNonce), random);
        tunnel = new EspTunnel(chosen.spi(), tunnelSpi, both[0], both[1]);
        request = List.of();
        stage = Stage.UP;
    }

    /** The server asks whether one is still there, or says goodbye: both get an empty answer. */
    private void asked(Message m) {
        if (keys == null || m.exchange() != Message.INFORMATIONAL || !Arrays.equals(m.spiR(), spiR)) {
            return;
        }
        Optional<List<Payload>> payloads = reader.read(m, keys.sealer(false));
        if (payloads.isEmpty()) {
            return;
        }
        boolean goodbye = Message.one(payloads.get(), Payload.DELETE).isPresent();
        for (byte[] packet : SealedMessage.write(
                keys.sealer(true),
                spiI,
                spiR,
                Message.INFORMATIONAL,
                Message.FROM_INITIATOR | Message.RESPONSE,
                m.id(),
                List.of(),
                false)) {
            answers.add(new Sent(Bytes.join(MARKER, packet), true));
        }
        if (goodbye) {
            refused = Optional.of("the server ended the connection");
        }
    }

    /** Whether the server has not answered what it was sent last; until it has, it heeds no goodbye. */
    public boolean isWaiting() {
        return keys != null && !request.isEmpty();
    }

    /** Seals an IP packet for the tunnel; only once it is up. */
    public byte[] seal(byte[] packet) {
        return tunnel.seal(packet);
    }

    /** The next packet that came through the tunnel. */
    public Optional<byte[]> received() {
        return Optional.ofNullable(received.poll());
    }

    /**
     * A polite goodbye, so that the server need not wait for silence, nor count this one among those who began and did not
     * finish; empty where it could not read one.
     */
    public Optional<byte[]> goodbye() {
        if (keys == null || serverId.length == 0) {
            return Optional.empty();
        }
        return Optional.of(Bytes.join(
                MARKER,
                SealedMessage.write(
                                keys.sealer(true),
                                spiI,
                                spiR,
                                Message.INFORMATIONAL,
                                Message.FROM_INITIATOR,
                                expected + 1,
                                List.of(new Payload(Payload.DELETE, new byte[] {1, 0, 0, 0})),
                                false)
                        .get(0)));
    }
}
