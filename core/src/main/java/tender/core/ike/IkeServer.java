package tender.core.ike;

import java.nio.ByteBuffer;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import tender.core.credential.RevealSecret;
import tender.core.network.Cidr;
import tender.core.wire.MalformedException;

/**
 * A server's side of one connection, fed with packets: what a simulated gateway answers. Retransmitted requests get the same
 * answer again. Not for use by several threads.
 */
public final class IkeServer {
    private static final byte[] MARKER = new byte[4];
    private static final byte[] NONE = new byte[8];

    private final IkeRules rules;
    private final SecureRandom random;
    private final byte[] spiR;
    private final byte[] nonce;
    private final byte[] tunnelSpi;
    private final EapServer eap;
    private final SealedMessage reader = new SealedMessage();
    private byte[] clientId = new byte[0];
    private byte[] ownId = new byte[0];
    private Optional<Agreed> agreed = Optional.empty();
    private EspTunnel tunnel;
    private int answered = -1;
    private List<byte[]> lastAnswer = List.of();
    private List<Payload> tunnelAsked = List.of();
    private boolean ended;
    private Assigned assigned = Assigned.NOTHING;

    public IkeServer(IkeRules rules, SecureRandom random) {
        this.rules = rules;
        this.random = random;
        this.eap = new EapServer(rules, random);
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
        return eap.account().isEmpty() && clientId.length > 0
                ? Identification.read(clientId).words()
                : eap.account();
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
                case Message.SA_INIT -> agreed.isEmpty() ? first(m) : List.<byte[]>of();
                case Message.AUTH, Message.INFORMATIONAL ->
                    agreed.isEmpty() ? List.<byte[]>of() : sealed(m, agreed.get());
                default -> List.<byte[]>of();
            };
            if (!out.isEmpty() && agreed.isPresent()) { // what is refused before may be asked again in another way
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
        byte[] clientNonce =
                Message.one(payloads, Payload.NONCE).map(Payload::body).orElse(new byte[0]);
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
        List<Payload> out = new ArrayList<>(List.of(
                new Payload(Payload.SA, Proposal.encode(List.of(chosen.get()))),
                agreement.payload(),
                new Payload(Payload.NONCE, nonce),
                Notify.of(Notify.NAT_SOURCE, Bytes.random(random, 20)),
                Notify.of(Notify.NAT_DESTINATION, Bytes.random(random, 20)),
                Notify.of(Notify.FRAGMENTATION, new byte[0]),
                Notify.hashes()));
        if (!rules.authorities().isEmpty()) {
            out.add(Payload.certificateRequest(rules.authorities()));
        }
        byte[] response = Message.plain(m.spiI(), spiR, Message.SA_INIT, Message.RESPONSE, 0, out);
        agreed = Optional.of(new Agreed(
                new Keys(chosen.get(), shared, Bytes.join(clientNonce, nonce), Bytes.join(m.spiI(), spiR), random),
                chosen.get(),
                new Agreed.Sides<>(m.spiI(), spiR),
                new Agreed.Sides<>(clientNonce, nonce),
                new Agreed.Sides<>(m.raw(), response),
                Notify.one(payloads, Notify.SIGNATURE_HASHES).isPresent(),
                Notify.one(payloads, Notify.FRAGMENTATION).isPresent(),
                Optional.empty()));
        return List.of(response);
    }

    private static Optional<Proposal> choose(List<Payload> payloads, List<Proposal> own) {
        List<Proposal> theirs = Message.one(payloads, Payload.SA)
                .map(p -> Proposal.decode(p.body()))
                .orElse(List.of());
        return own.stream()
                .flatMap(o -> theirs.stream().flatMap(t -> t.chosenBy(o).stream()))
                .findFirst();
    }

    private List<byte[]> sealed(Message m, Agreed with) {
        Optional<List<Payload>> read = reader.read(m, with.keys().sealer(true));
        if (read.isEmpty()) {
            return List.of();
        }
        List<Payload> payloads = read.get();
        if (m.exchange() == Message.INFORMATIONAL) {
            if (Message.one(payloads, Payload.DELETE).isPresent()) {
                ended = true;
                rules.log("ike: " + caller() + " said goodbye");
            }
            return with.sealed(m.exchange(), Message.RESPONSE, m.id(), List.of(), with.fragments());
        }
        if (ended || tunnel != null) {
            return List.of();
        }
        return with.sealed(m.exchange(), Message.RESPONSE, m.id(), authenticate(payloads), with.fragments());
    }

    private byte[] octets(boolean initiator) {
        return agreed.orElseThrow().octets(initiator, initiator ? clientId : ownId);
    }

    private Proof shared(byte[] secret, boolean initiator) {
        return agreed.orElseThrow().shared(secret, initiator, initiator ? clientId : ownId);
    }

    private List<Payload> authenticate(List<Payload> payloads) {
        Optional<Payload> asked = Message.one(payloads, Payload.EAP);
        if (asked.isPresent()) {
            byte[] answer = eap.on(asked.get().body());
            ended = eap.isFailed();
            return List.of(new Payload(Payload.EAP, answer));
        }
        Optional<Proof> proof = Message.one(payloads, Payload.AUTHENTICATION).map(Proof::read);
        if (eap.isDone()) {
            boolean right = proof.filter(p -> p.is(shared(eap.key(), true))).isPresent();
            return right ? letIn(List.of(shared(eap.key(), false).payload())) : refused("the proof after EAP is wrong");
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
                    .filter(s -> proof.is(shared(s.reveal(RevealSecret.TO_HANDSHAKE), true)))
                    .isPresent();
            return right
                    ? letIn(List.of(
                            new Payload(Payload.ID_RESPONDER, ownId),
                            shared(rules.shared().orElseThrow().reveal(RevealSecret.TO_HANDSHAKE), false)
                                    .payload()))
                    : refused("the shared secret is wrong");
        }
        List<byte[]> chain = Payload.certificates(payloads);
        Optional<String> why = chain.isEmpty() ? Optional.of("no certificate came") : rules.refuses(chain);
        if (why.isPresent()) {
            return refused(why.get());
        }
        return proof.isBy(chain.get(0), octets(true)) ? letIn(introduction()) : refused("the proof is wrong");
    }

    private List<Payload> introduction() {
        List<Payload> out = new ArrayList<>();
        out.add(new Payload(Payload.ID_RESPONDER, ownId));
        rules.chain().forEach(der -> out.add(Payload.certificate(der)));
        out.add(Proof.signed(rules.key(), octets(false), agreed.orElseThrow().modern())
                .payload());
        return out;
    }

    private List<Payload> refused(String why) {
        rules.log("ike: " + caller() + ": " + why);
        ended = true;
        return List.of(Notify.of(Notify.AUTHENTICATION_FAILED, new byte[0]));
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
        Sealer[] both = agreed.orElseThrow().tunnel(theirs, random);
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
