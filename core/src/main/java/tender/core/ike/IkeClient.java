package tender.core.ike;

import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
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
    private static final int TRIES = 6;
    private static final Duration FIRST_WAIT = Duration.ofMillis(500);

    private final IkeSettings settings;
    private final SecureRandom random;
    private final FirstExchange firstExchange;
    private final WantedTunnel wanted;
    private final Deque<byte[]> received = new ArrayDeque<>();
    private final Deque<Sent> answers = new ArrayDeque<>();
    private final SealedMessage reader = new SealedMessage();
    private Optional<Agreed> agreed = Optional.empty();
    private Optional<Authentication> authentication = Optional.empty();
    private Optional<WantedTunnel.Got> got = Optional.empty();
    private Optional<String> refused = Optional.empty();
    private Optional<String> broken = Optional.empty();
    private boolean natBefore;
    private List<Sent> request = List.of();
    private int expected;
    private int tries;
    private int lost;
    private Instant again = Instant.MIN;

    public IkeClient(IkeSettings settings, SecureRandom random) {
        this.settings = settings;
        this.random = random;
        this.firstExchange = new FirstExchange(settings.ike(), random);
        this.wanted = WantedTunnel.of(settings, random);
        ask(List.of(firstExchange.request()));
    }

    /** How far it came. */
    public Stage stage() {
        if (got.isPresent()) {
            return Stage.UP;
        }
        if (authentication.filter(Authentication::isTrusted).isPresent()) {
            return Stage.TRUSTED;
        }
        return agreed.isPresent() ? Stage.ANSWERED : Stage.CALLING;
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
        return authentication.map(Authentication::serverChain).orElse(List.of());
    }

    /** Who the server says it is. */
    public Optional<Identification> serverId() {
        return authentication.flatMap(Authentication::serverId);
    }

    /** Whether the server's proof was made with the key of its certificate, or with the shared secret. */
    public boolean proofHolds() {
        return authentication.filter(Authentication::proofHolds).isPresent();
    }

    /** Algorithms of the connection and of its tunnel, for people. */
    public Optional<String> algorithms() {
        return got.map(WantedTunnel.Got::suite)
                .or(() -> agreed.map(Agreed::suite))
                .map(Proposal::words);
    }

    /** Whether the server itself stands behind a network address translation. */
    public boolean serverBehindNat() {
        return natBefore;
    }

    public Assigned assigned() {
        return got.map(WantedTunnel.Got::assigned).orElse(Assigned.NOTHING);
    }

    /** Networks that the server lets through the tunnel. */
    public List<Cidr> reach() {
        return got.map(WantedTunnel.Got::reach).orElse(List.of());
    }

    /** Whether requests had to be sent again. */
    public boolean isLossy() {
        return lost > 0;
    }

    private void ask(List<byte[]> packets) {
        boolean nat = settings.onlyNatPort() || agreed.isPresent();
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
            if (!fromNatPort) {
                onMessage(Message.read(packet));
            } else if (isMarked(packet)) {
                onMessage(Message.read(Arrays.copyOfRange(packet, MARKER.length, packet.length)));
            } else {
                got.flatMap(g -> g.tunnel().open(packet)).ifPresent(received::add);
            }
        } catch (MalformedException e) {
            // from anywhere; the right answer may still come
            if (agreed.isPresent() && e.place().equals("own")) {
                broken = Optional.of(e.getMessage());
            }
        }
    }

    private static boolean isMarked(byte[] packet) {
        return packet.length > MARKER.length && Arrays.equals(packet, 0, MARKER.length, MARKER, 0, MARKER.length);
    }

    private void onMessage(Message m) {
        if (!Arrays.equals(m.spiI(), firstExchange.spi())) {
            return;
        }
        boolean due = m.isResponse() && m.id() == expected;
        if (refused.isPresent() || broken.isPresent()) {
            // nothing changes any more; only whether the server still works on what it was sent last
            if (due) {
                request = List.of();
            }
        } else if (!m.isResponse()) {
            agreed.ifPresent(a -> asked(m, a));
        } else if (due && !request.isEmpty()) {
            answered(m);
        }
    }

    private void answered(Message m) {
        if (m.exchange() == Message.SA_INIT && agreed.isEmpty()) {
            first(m);
        } else if (m.exchange() == Message.AUTH && agreed.filter(a -> a.isOf(m)).isPresent()) {
            reader.read(m, agreed.get().keys().sealer(false)).ifPresent(this::authenticated);
        }
    }

    private void first(Message m) {
        FirstExchange.Outcome outcome = firstExchange.on(m);
        if (outcome instanceof FirstExchange.Again) {
            ask(List.of(firstExchange.request()));
        } else if (outcome instanceof FirstExchange.Refused by) {
            refuse(by.by());
        } else if (outcome instanceof FirstExchange.Done done) {
            agreed = Optional.of(done.agreed());
            Authentication begun = new Authentication(settings, done.agreed(), random);
            authentication = Optional.of(begun);
            List<Payload> out = new ArrayList<>(begun.introduction());
            out.addAll(wanted.payloads());
            say(1, out);
        }
    }

    /** Told where the server was called, so that its own word on its address can be held against it (RFC 7296 §2.23). */
    public void calledAt(IpAddress address, int port) {
        natBefore = agreed.filter(a -> a.serverBehindNat(address, port)).isPresent();
    }

    private void say(int id, List<Payload> payloads) {
        Agreed a = agreed.orElseThrow();
        expected = id;
        ask(a.sealed(Message.AUTH, Message.FROM_INITIATOR, id, payloads, a.fragments()));
    }

    private void refuse(String why) {
        request = List.of();
        refused = Optional.of(why);
    }

    private void authenticated(List<Payload> payloads) {
        Authentication.Step step = authentication.orElseThrow().on(payloads);
        if (step instanceof Authentication.Say more) {
            say(expected + 1, more.payloads());
            refused = more.refused();
        } else if (step instanceof Authentication.Refused by) {
            refuse(by.why());
        } else if (step instanceof Authentication.Broken by) {
            request = List.of();
            broken = Optional.of(by.why());
        } else {
            got = Optional.of(wanted.got(payloads, agreed.orElseThrow(), random));
            request = List.of();
        }
    }

    /** The server asks whether one is still there, or says goodbye: both get an empty answer. */
    private void asked(Message m, Agreed a) {
        if (m.exchange() != Message.INFORMATIONAL || !a.isOf(m)) {
            return;
        }
        reader.read(m, a.keys().sealer(false)).ifPresent(payloads -> {
            int flags = Message.FROM_INITIATOR | Message.RESPONSE;
            a.sealed(Message.INFORMATIONAL, flags, m.id(), List.of(), false)
                    .forEach(packet -> answers.add(new Sent(Bytes.join(MARKER, packet), true)));
            if (Message.one(payloads, Payload.DELETE).isPresent()) {
                refused = Optional.of("the server ended the connection");
            }
        });
    }

    /** Whether the server has not answered what it was sent last; until it has, it heeds no goodbye. */
    public boolean isWaiting() {
        return agreed.isPresent() && !request.isEmpty();
    }

    /** Seals an IP packet for the tunnel; only once it is up. */
    public byte[] seal(byte[] packet) {
        return got.orElseThrow().tunnel().seal(packet);
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
        return agreed.filter(a -> serverId().isPresent()).map(a -> {
            Payload all = new Payload(Payload.DELETE, new byte[] {1, 0, 0, 0});
            return Bytes.join(
                    MARKER,
                    a.sealed(Message.INFORMATIONAL, Message.FROM_INITIATOR, expected + 1, List.of(all), false)
                            .get(0));
        });
    }
}
