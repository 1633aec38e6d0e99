package tender.core.ike;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import tender.core.certificate.CertificateKey;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.network.Cidr;
import tender.core.wire.MalformedException;

/**
 * A server's side of one connection, fed with packets: what a simulated gateway answers. Retransmitted requests get the same
 * answer again. Not for use by several threads.
 */
public final class IkeServer {
    /** Who a server is and whom it lets in. */
    public interface Rules {
        /** What its certificate says. */
        String identity();

        /** Certificates, its own first. */
        List<byte[]> chain();

        CertificateKey key();

        /** Proposals as settings write them. */
        String proposals();

        String tunnelProposals();

        /** What callers may reach. */
        List<Cidr> reach();

        /** Whose certificates are asked for. */
        List<byte[]> authorities();

        /** Why a certificate is not believed; empty where it is. */
        Optional<String> refuses(List<byte[]> chain);

        /** An account's password; empty where there is no such account, or none are taken. */
        Optional<Secret> password(String account);

        /** The secret shared with all; empty where certificates or accounts are wanted. */
        Optional<Secret> shared();

        /** An address and name servers for whoever came in; empty addresses where none is left. */
        Assigned assign(String caller);

        /** A line for the gateway's log. */
        void log(String line);
    }

    private static final byte[] MARKER = new byte[4];
    private static final byte[] NONE = new byte[8];

    private final Rules rules;
    private final SecureRandom random;
    private final byte[] spiR;
    private final byte[] nonce;
    private final byte[] tunnelSpi;
    private final SealedMessage reader = new SealedMessage();
    private byte[] spiI = NONE;
    private byte[] clientNonce = new byte[0];
    private byte[] clientId = new byte[0];
    private byte[] ownId = new byte[0];
    private byte[] firstRequest = new byte[0];
    private byte[] firstResponse = new byte[0];
    private Keys keys;
    private EspTunnel tunnel;
    private boolean modern;
    private boolean fragments;
    private int answered = -1;
    private List<byte[]> lastAnswer = List.of();
    private List<Payload> tunnelAsked = List.of();
    private Optional<MsChap> exchange = Optional.empty();
    private byte[] challenge = new byte[0];
    private String account = "";
    private boolean eapDone;
    private boolean ended;
    private Assigned assigned = Assigned.NOTHING;

    public IkeServer(Rules rules, SecureRandom random) {
        this.rules = rules;
        this.random = random;
        this.spiR = Bytes.random(random, 8);
        this.nonce = Bytes.random(random, 32);
        this.tunnelSpi = Bytes.random(random, 4);
        tunnelSpi[0] |= 0x10;
    }

    /** Tells connections apart; the caller's number is the same in all packets of one. */
    public static Optional<String> connectionOf(byte[] packet, boolean onNatPort) {
        int at = onNatPort ? 4 : 0;
        return packet.length >= at + Message.HEADER
                ? Optional.of(HexFormat.of().formatHex(packet, at, at + 8))
                : Optional.empty();
    }

    /** Number of the tunnel that a packet of ESP is for; empty where it is none. */
    public static Optional<Integer> tunnelOf(byte[] packet) {
        boolean marked = packet.length < 8 || ByteBuffer.wrap(packet).getInt() == 0;
        return marked ? Optional.empty() : Optional.of(ByteBuffer.wrap(packet).getInt());
    }

    public int tunnelNumber() {
        return ByteBuffer.wrap(tunnelSpi).getInt();
    }

    public boolean isUp() {
        return tunnel != null && !ended;
    }

    /** Whether it was refused or said goodbye. */
    public boolean isEnded() {
        return ended;
    }

    /** Who is connected, by certificate or account. */
    public String caller() {
        return account.isEmpty() && clientId.length > 0
                ? Identification.read(clientId).words()
                : account;
    }

    public Assigned assigned() {
        return assigned;
    }

    /** Takes a packet and gives the answers to it; where nothing is to be said, none. */
    public List<byte[]> onPacket(byte[] packet, boolean onNatPort) {
        try {
            int from = onNatPort ? Math.min(MARKER.length, packet.length) : 0;
            Message m = Message.read(Arrays.copyOfRange(packet, from, packet.length));
            if (m.isResponse()) {
                return List.of();
            }
            if (m.id() == answered) {
                return marked(lastAnswer, onNatPort);
            }
            List<byte[]> out = switch (m.exchange()) {
                case Message.SA_INIT -> keys == null ? first(m) : List.<byte[]>of();
                case Message.AUTH, Message.INFORMATIONAL -> keys == null ? List.<byte[]>of() : sealed(m);
                default -> List.<byte[]>of();
            };
            if (!out.isEmpty() && keys != null) { // what is refused before may be asked again in another way
                answered = m.id();
                lastAnswer = out;
            }
            return marked(out, onNatPort);
        } catch (MalformedException e) {
            return List.of();
        }
    }

    private static List<byte[]> marked(List<byte[]> packets, boolean onNatPort) {
        return onNatPort ? packets.stream().map(p -> Bytes.join(MARKER, p)).toList() : packets;
    }

    private List<byte[]> refuse(Message m, int type, byte[] data) {
        rules.log("ike: " + new Notify(type, data).name());
        return List.of(
                Message.plain(m.spiI(), NONE, Message.SA_INIT, Message.RESPONSE, 0, List.of(Notify.of(type, data))));
    }

    private List<byte[]> first(Message m) {
        List<Payload> payloads = m.payloads();
        List<Proposal> own = Proposal.parse(Proposal.IKE, rules.proposals(), new byte[0]);
        Optional<Proposal> chosen = choose(payloads, own);
        if (chosen.isEmpty()) {
            return refuse(m, Notify.NO_PROPOSAL_CHOSEN, new byte[0]);
        }
        byte[] theirs =
                Message.one(payloads, Payload.KEY_EXCHANGE).map(Payload::body).orElse(new byte[0]);
        clientNonce = Message.one(payloads, Payload.NONCE).map(Payload::body).orElse(new byte[0]);
        if (theirs.length < 5 || clientNonce.length < 16) {
            return List.of();
        }
        int group = chosen.get().need(Transform.GROUP).id();
        if (((theirs[0] & 0xff) << 8 | theirs[1] & 0xff) != group) {
            return refuse(
                    m,
                    Notify.INVALID_KE,
                    ByteBuffer.allocate(2).putShort((short) group).array());
        }
        Agreement agreement = Agreement.begin(group, random);
        byte[] shared = agreement.agree(Arrays.copyOfRange(theirs, 4, theirs.length));
        spiI = m.spiI();
        firstRequest = m.raw();
        modern = Notify.one(payloads, Notify.SIGNATURE_HASHES).isPresent();
        fragments = Notify.one(payloads, Notify.FRAGMENTATION).isPresent();
        List<Payload> out = new ArrayList<>(List.of(
                new Payload(Payload.SA, Proposal.encode(List.of(chosen.get()))),
                new Payload(
                        Payload.KEY_EXCHANGE,
                        Bytes.join(
                                ByteBuffer.allocate(4)
                                        .putShort((short) group)
                                        .putShort((short) 0)
                                        .array(),
                                agreement.publicValue())),
                new Payload(Payload.NONCE, nonce),
                Notify.of(Notify.NAT_SOURCE, Bytes.random(random, 20)),
                Notify.of(Notify.NAT_DESTINATION, Bytes.random(random, 20)),
                Notify.of(Notify.FRAGMENTATION, new byte[0]),
                IkeClient.hashes()));
        if (!rules.authorities().isEmpty()) {
            out.add(IkeClient.certificateRequest(rules.authorities()));
        }
        firstResponse = Message.plain(spiI, spiR, Message.SA_INIT, Message.RESPONSE, 0, out);
        keys = new Keys(chosen.get(), shared, Bytes.join(clientNonce, nonce), Bytes.join(spiI, spiR), random);
        return List.of(firstResponse);
    }

    private static Optional<Proposal> choose(List<Payload> payloads, List<Proposal> own) {
        List<Proposal> theirs = Message.one(payloads, Payload.SA)
                .map(p -> Proposal.decode(p.body()))
                .orElse(List.of());
        return own.stream()
                .flatMap(o -> theirs.stream().flatMap(t -> t.chosenBy(o).stream()))
                .findFirst();
    }

    private List<byte[]> sealed(Message m) {
        Optional<List<Payload>> read = reader.read(m, keys.sealer(true));
        if (read.isEmpty()) {
            return List.of();
        }
        List<Payload> payloads = read.get();
        if (m.exchange() == Message.INFORMATIONAL) {
            if (Message.one(payloads, Payload.DELETE).isPresent()) {
                ended = true;
                rules.log("ike: " + caller() + " said goodbye");
            }
            return answer(m, List.of());
        }
        if (ended || tunnel != null) {
            return List.of();
        }
        return answer(m, authenticate(payloads));
    }

    private List<byte[]> answer(Message m, List<Payload> payloads) {
        return SealedMessage.write(
                keys.sealer(false), spiI, spiR, m.exchange(), Message.RESPONSE, m.id(), payloads, fragments);
    }

    private byte[] octets(boolean initiator) {
        return Proof.octets(
                initiator ? firstRequest : firstResponse,
                initiator ? nonce : clientNonce,
                keys.prf(),
                keys.proof(initiator),
                initiator ? clientId : ownId);
    }

    private List<Payload> authenticate(List<Payload> payloads) {
        Optional<Payload> eap = Message.one(payloads, Payload.EAP);
        if (eap.isPresent()) {
            return onEap(eap.get().body());
        }
        Optional<Proof> proof = Message.one(payloads, Payload.AUTHENTICATION).map(Proof::read);
        if (eapDone) {
            boolean right = proof.filter(p -> same(
                            p, Proof.shared(keys.prf(), exchange.orElseThrow().key(), octets(true))))
                    .isPresent();
            return right
                    ? letIn(List.of(
                            Proof.shared(keys.prf(), exchange.orElseThrow().key(), octets(false))
                                    .payload()))
                    : refused("the proof after EAP is wrong");
        }
        clientId =
                Message.one(payloads, Payload.ID_INITIATOR).map(Payload::body).orElse(new byte[0]);
        ownId = Identification.parse(rules.identity()).body();
        boolean other = Message.one(payloads, Payload.ID_RESPONDER)
                .map(p -> Identification.read(p.body()))
                .filter(i -> !i.is(Identification.parse(rules.identity())))
                .isPresent();
        if (other) {
            return refused("no IKE config found for the identity that the caller wants");
        }
        tunnelAsked = payloads;
        if (proof.isEmpty()) {
            List<Payload> out = new ArrayList<>(introduction());
            out.add(new Payload(Payload.EAP, Eap.packet(Eap.REQUEST, 1, new byte[] {Eap.IDENTITY})));
            return out;
        }
        return proven(payloads, proof.get());
    }

    private List<Payload> proven(List<Payload> payloads, Proof proof) {
        if (proof.method() == Proof.SHARED) {
            boolean right = rules.shared()
                    .filter(s ->
                            same(proof, Proof.shared(keys.prf(), s.reveal(RevealSecret.TO_HANDSHAKE), octets(true))))
                    .isPresent();
            return right
                    ? letIn(List.of(
                            new Payload(Payload.ID_RESPONDER, ownId),
                            Proof.shared(
                                            keys.prf(),
                                            rules.shared().orElseThrow().reveal(RevealSecret.TO_HANDSHAKE),
                                            octets(false))
                                    .payload()))
                    : refused("the shared secret is wrong");
        }
        List<byte[]> chain = payloads.stream()
                .filter(p -> p.type() == Payload.CERTIFICATE && p.body().length > 1)
                .map(p -> Arrays.copyOfRange(p.body(), 1, p.body().length))
                .toList();
        Optional<String> why = chain.isEmpty() ? Optional.of("no certificate came") : rules.refuses(chain);
        if (why.isPresent()) {
            return refused(why.get());
        }
        return proof.isBy(chain.get(0), octets(true)) ? letIn(introduction()) : refused("the proof is wrong");
    }

    private static boolean same(Proof a, Proof b) {
        return a.method() == b.method() && java.security.MessageDigest.isEqual(a.data(), b.data());
    }

    private List<Payload> introduction() {
        List<Payload> out = new ArrayList<>();
        out.add(new Payload(Payload.ID_RESPONDER, ownId));
        rules.chain().forEach(der -> out.add(new Payload(Payload.CERTIFICATE, Bytes.join(new byte[] {4}, der))));
        out.add(Proof.signed(rules.key(), octets(false), modern).payload());
        return out;
    }

    private List<Payload> refused(String why) {
        rules.log("ike: " + caller() + ": " + why);
        ended = true;
        return List.of(Notify.of(Notify.AUTHENTICATION_FAILED, new byte[0]));
    }

    private List<Payload> onEap(byte[] packet) {
        int id = packet.length > 1 ? packet[1] & 0xff : 0;
        int type = packet.length > 4 ? packet[4] & 0xff : 0;
        if (type == Eap.IDENTITY) {
            account = new String(packet, 5, packet.length - 5, StandardCharsets.UTF_8).replaceAll("\\p{Cntrl}", "?");
            challenge = Bytes.random(random, 16);
            return eap(Eap.packet(
                    Eap.REQUEST,
                    id + 1,
                    Eap.mschap(
                            Eap.CHALLENGE, id + 1, Bytes.join(new byte[] {16}, challenge, ascii(rules.identity())))));
        }
        if (type == Eap.MSCHAPV2 && packet.length >= 6 && packet[5] == Eap.ANSWER && packet.length >= 59) {
            byte[] peer = Arrays.copyOfRange(packet, 10, 26);
            byte[] response = Arrays.copyOfRange(packet, 34, 58);
            Optional<MsChap> expected = rules.password(account)
                    .map(p -> new MsChap(account, p.revealText(RevealSecret.TO_HANDSHAKE), challenge, peer));
            boolean right = expected.filter(e -> java.security.MessageDigest.isEqual(e.response(), response))
                    .isPresent();
            if (!right) {
                rules.log("ike: EAP-MSCHAPv2 verification failed for " + account);
                return eap(Eap.packet(
                        Eap.REQUEST, id + 1, Eap.mschap(Eap.REFUSED, id + 1, ascii("E=691 R=0 C=0 V=3 M=refused"))));
            }
            exchange = expected;
            return eap(Eap.packet(
                    Eap.REQUEST,
                    id + 1,
                    Eap.mschap(Eap.ACCEPTED, id + 1, ascii(expected.get().authenticator() + " M=welcome"))));
        }
        if (type == Eap.MSCHAPV2 && packet.length >= 6 && packet[5] == Eap.ACCEPTED && exchange.isPresent()) {
            eapDone = true;
            return eap(Eap.packet(Eap.SUCCESS, id, new byte[0]));
        }
        ended = true;
        return eap(Eap.packet(Eap.FAILURE, id, new byte[0]));
    }

    private static List<Payload> eap(byte[] packet) {
        return List.of(new Payload(Payload.EAP, packet));
    }

    private static byte[] ascii(String text) {
        return text.getBytes(StandardCharsets.US_ASCII);
    }

    private List<Payload> letIn(List<Payload> proof) {
        List<Payload> out = new ArrayList<>(proof);
        List<Proposal> own = Proposal.parse(Proposal.ESP, rules.tunnelProposals(), tunnelSpi);
        Optional<Proposal> chosen = choose(tunnelAsked, own);
        assigned = rules.assign(caller());
        List<Cidr> wanted = Message.one(tunnelAsked, Payload.SELECTORS_RESPONDER)
                .map(p -> Selectors.decode(p.body()))
                .orElse(List.of());
        List<Cidr> reach = narrowed(wanted, rules.reach());
        int trouble = chosen.isEmpty()
                ? Notify.NO_PROPOSAL_CHOSEN
                : assigned.addresses().isEmpty()
                        ? Notify.INTERNAL_ADDRESS_FAILURE
                        : reach.isEmpty() ? Notify.TS_UNACCEPTABLE : 0;
        if (trouble != 0) {
            rules.log("ike: " + caller() + ": " + new Notify(trouble, new byte[0]).name());
            out.add(Notify.of(trouble, new byte[0]));
            return out;
        }
        Proposal theirs = chosen.get();
        Sealer[] both = keys.tunnel(theirs, Bytes.join(clientNonce, nonce), random);
        tunnel = new EspTunnel(theirs.spi(), tunnelSpi, both[1], both[0]);
        out.add(assigned.reply());
        out.add(new Payload(
                Payload.SA,
                Proposal.encode(
                        List.of(new Proposal(theirs.number(), theirs.protocol(), tunnelSpi, theirs.transforms())))));
        out.add(new Payload(
                Payload.SELECTORS_INITIATOR,
                Selectors.encode(assigned.addresses().stream().map(Cidr::host).toList())));
        out.add(new Payload(Payload.SELECTORS_RESPONDER, Selectors.encode(reach)));
        rules.log("ike: " + caller() + " connected");
        return out;
    }

    /** What both sides want. */
    private static List<Cidr> narrowed(List<Cidr> wanted, List<Cidr> allowed) {
        List<Cidr> out = new ArrayList<>();
        for (Cidr a : allowed) {
            for (Cidr w : wanted) {
                if (a.contains(w)) {
                    out.add(w);
                } else if (w.contains(a)) {
                    out.add(a);
                }
            }
        }
        return out.stream().distinct().toList();
    }

    /** A packet out of the tunnel. */
    public Optional<byte[]> open(byte[] packet) {
        return tunnel == null ? Optional.empty() : tunnel.open(packet);
    }

    public byte[] seal(byte[] packet) {
        return tunnel.seal(packet);
    }
}
