package tender.core.ike;

import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import tender.core.wire.MalformedException;

/** A caller's first exchange (RFC 7296 §1.2): again with a cookie or another group where the server wants it. */
final class FirstExchange {
    /** What an answer leads to. */
    sealed interface Outcome {}

    /** It says nothing new. */
    record Nothing() implements Outcome {}

    /** The request, which has changed, is to be sent. */
    record Again() implements Outcome {}

    record Refused(String by) implements Outcome {}

    record Done(Agreed agreed) implements Outcome {}

    private static final byte[] NONE = new byte[8];
    private static final int RESTARTS = 3;

    private final SecureRandom random;
    private final byte[] spi;
    private final byte[] nonce;
    private final List<Proposal> offered;
    private Agreement agreement;
    private byte[] cookie = new byte[0];
    private byte[] request;
    private int restarts;

    FirstExchange(List<Proposal> offered, SecureRandom random) {
        this.random = random;
        this.offered = offered;
        this.spi = Bytes.random(random, 8);
        this.nonce = Bytes.random(random, 32);
        begin(offered.get(0).need(Transform.GROUP).id());
    }

    /** The caller's number for the connection. */
    byte[] spi() {
        return spi;
    }

    byte[] request() {
        return request;
    }

    private void begin(int group) {
        agreement = Agreement.begin(group, random);
        List<Payload> payloads = new ArrayList<>();
        if (cookie.length > 0) {
            payloads.add(Notify.of(Notify.COOKIE, cookie));
        }
        payloads.add(new Payload(Payload.SA, Proposal.encode(offered)));
        payloads.add(agreement.payload());
        payloads.add(new Payload(Payload.NONCE, nonce));
        // values that fit no address make the server take ESP in UDP
        payloads.add(Notify.of(Notify.NAT_SOURCE, Bytes.random(random, 20)));
        payloads.add(Notify.of(Notify.NAT_DESTINATION, Bytes.random(random, 20)));
        payloads.add(Notify.of(Notify.FRAGMENTATION, new byte[0]));
        payloads.add(Notify.hashes());
        request = Message.plain(spi, NONE, Message.SA_INIT, Message.FROM_INITIATOR, 0, payloads);
    }

    /** @throws MalformedException if it is no answer that one could go on with; the right one may still come */
    Outcome on(Message m) {
        Optional<Notify> asksCookie = Notify.one(m.payloads(), Notify.COOKIE);
        if (asksCookie.isPresent() && Message.one(m.payloads(), Payload.SA).isEmpty()) {
            return withCookie(asksCookie.get().data());
        }
        Optional<Notify> refusal = Notify.refusal(m.payloads());
        return refusal.isPresent() ? refused(refusal.get()) : new Done(agreed(m));
    }

    private Outcome withCookie(byte[] asked) {
        boolean old = Arrays.equals(cookie, asked); // the line doubled an answer
        if (old || restarts++ >= RESTARTS) {
            return new Nothing();
        }
        cookie = asked;
        begin(agreement.group());
        return new Again();
    }

    private Outcome refused(Notify refusal) {
        byte[] data = refusal.data();
        boolean other = refusal.type() == Notify.INVALID_KE && data.length == 2;
        int group = other ? u16(data) : 0;
        if (other && group == agreement.group()) {
            return new Nothing(); // answers what was asked before this group was taken; the line doubled or held it
        }
        boolean ours =
                offered.stream().anyMatch(p -> p.transforms().contains(new Transform(Transform.GROUP, group, 0)));
        if (!other || !ours || restarts++ >= RESTARTS) {
            return new Refused(refusal.name());
        }
        begin(group);
        return new Again();
    }

    private Agreed agreed(Message m) {
        List<Payload> payloads = m.payloads();
        Proposal chosen = chosen(payloads);
        byte[] exchange = need(payloads, Payload.KEY_EXCHANGE);
        byte[] serverNonce = need(payloads, Payload.NONCE);
        boolean sameGroup = exchange.length > 4
                && u16(exchange) == agreement.group()
                && chosen.need(Transform.GROUP).id() == agreement.group();
        if (!sameGroup || serverNonce.length < 16 || serverNonce.length > 256) {
            throw incomplete();
        }
        byte[] shared = agreement.agree(Arrays.copyOfRange(exchange, 4, exchange.length));
        return new Agreed(
                new Keys(chosen, shared, Bytes.join(nonce, serverNonce), Bytes.join(spi, m.spiR()), random),
                chosen,
                new Agreed.Sides<>(spi, m.spiR()),
                new Agreed.Sides<>(nonce, serverNonce),
                new Agreed.Sides<>(request, m.raw()),
                Notify.one(payloads, Notify.SIGNATURE_HASHES).isPresent(),
                Notify.one(payloads, Notify.FRAGMENTATION).isPresent(),
                Notify.one(payloads, Notify.NAT_SOURCE).map(Notify::data));
    }

    private Proposal chosen(List<Payload> payloads) {
        return Message.one(payloads, Payload.SA)
                .map(p -> Proposal.decode(p.body()))
                .filter(all -> all.size() == 1)
                .map(all -> all.get(0))
                .filter(c -> offered.stream().anyMatch(o -> c.chosenBy(o).isPresent()))
                .orElseThrow(() -> new MalformedException("proposal", "", "the server chose what was not offered"));
    }

    private static byte[] need(List<Payload> payloads, int type) {
        return Message.one(payloads, type)
                .orElseThrow(FirstExchange::incomplete)
                .body();
    }

    private static int u16(byte[] bytes) {
        return (bytes[0] & 0xff) << 8 | bytes[1] & 0xff;
    }

    private static MalformedException incomplete() {
        return new MalformedException("message", "", "the server's first message lacks a part");
    }
}
