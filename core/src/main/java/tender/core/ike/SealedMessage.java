package tender.core.ike;

import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import tender.core.wire.ByteCursor;

/** Messages whose payloads are sealed (RFC 7296 §3.14), whole or in fragments (RFC 7383). */
final class SealedMessage {
    private static final int FRAGMENT = 1_100;
    private static final int MAX_FRAGMENTS = 64;

    private final Map<Integer, Map<Integer, byte[]>> parts = new TreeMap<>();
    private final Map<Integer, Integer> firsts = new TreeMap<>();

    /** The packets of one message; more than one only where the other side takes fragments. */
    static List<byte[]> write(
            Sealer sealer,
            byte[] spiI,
            byte[] spiR,
            int exchange,
            int flags,
            int id,
            List<Payload> payloads,
            boolean fragments) {
        byte[] text = Payload.encode(payloads);
        int first = payloads.isEmpty() ? 0 : payloads.get(0).type();
        if (!fragments || text.length <= FRAGMENT) {
            return List.of(one(sealer, spiI, spiR, exchange, flags, id, Payload.SEALED, first, new byte[0], text));
        }
        List<byte[]> out = new ArrayList<>();
        int total = (text.length + FRAGMENT - 1) / FRAGMENT;
        for (int n = 1; n <= total; n++) {
            byte[] numbers = ByteBuffer.allocate(4)
                    .putShort((short) n)
                    .putShort((short) total)
                    .array();
            byte[] part = Arrays.copyOfRange(text, (n - 1) * FRAGMENT, Math.min(text.length, n * FRAGMENT));
            out.add(one(
                    sealer,
                    spiI,
                    spiR,
                    exchange,
                    flags,
                    id,
                    Payload.SEALED_FRAGMENT,
                    n == 1 ? first : 0,
                    numbers,
                    part));
        }
        return out;
    }

    private static byte[] one(
            Sealer sealer,
            byte[] spiI,
            byte[] spiR,
            int exchange,
            int flags,
            int id,
            int type,
            int first,
            byte[] numbers,
            byte[] text) {
        int block = sealer.block();
        int pad = (block - (text.length + 1) % block) % block;
        byte[] padded = Arrays.copyOf(text, text.length + pad + 1);
        padded[padded.length - 1] = (byte) pad;
        int sealed = 4 + numbers.length + sealer.ivBytes() + padded.length + sealer.tagBytes();
        byte[] before = Bytes.join(
                Message.header(spiI, spiR, type, exchange, flags, id, Message.HEADER + sealed),
                ByteBuffer.allocate(4)
                        .put((byte) first)
                        .put((byte) 0)
                        .putShort((short) sealed)
                        .array(),
                numbers);
        return Bytes.join(before, sealer.seal(before, padded));
    }

    /** The payloads of a message once all of it came; empty while parts are missing, or where it does not open. */
    Optional<List<Payload>> read(Message message, Sealer sealer) {
        List<Payload> outer = message.payloads();
        if (outer.isEmpty()) {
            return Optional.empty();
        }
        Payload last = outer.get(outer.size() - 1);
        int at = message.raw().length - last.body().length;
        int inner = message.raw()[at - 4] & 0xff;
        if (last.type() == Payload.SEALED) {
            return open(message, sealer, at, at).map(text -> Payload.decode(inner, text));
        }
        if (last.type() != Payload.SEALED_FRAGMENT) {
            return Optional.empty();
        }
        ByteCursor numbers = new ByteCursor(last.body());
        int number = numbers.u16();
        int total = numbers.u16();
        if (number < 1 || number > total || total > MAX_FRAGMENTS) {
            return Optional.empty();
        }
        Optional<byte[]> text = open(message, sealer, at + 4, at + 4);
        if (text.isEmpty()) {
            return Optional.empty();
        }
        Map<Integer, byte[]> got = parts.computeIfAbsent(message.id(), id -> new TreeMap<>());
        parts.keySet().removeIf(id -> id < message.id());
        got.put(number, text.get());
        if (number == 1) {
            firsts.put(message.id(), inner);
        }
        if (got.size() < total) {
            return Optional.empty();
        }
        byte[] whole = Bytes.join(got.values().toArray(new byte[0][]));
        parts.remove(message.id());
        return Optional.of(Payload.decode(firsts.getOrDefault(message.id(), 0), whole));
    }

    private static Optional<byte[]> open(Message message, Sealer sealer, int header, int from) {
        byte[] raw = message.raw();
        return sealer.open(Arrays.copyOf(raw, header), Arrays.copyOfRange(raw, from, raw.length))
                .flatMap(SealedMessage::unpadded);
    }

    private static Optional<byte[]> unpadded(byte[] text) {
        int pad = text[text.length - 1] & 0xff;
        return pad + 1 > text.length ? Optional.empty() : Optional.of(Arrays.copyOf(text, text.length - pad - 1));
    }
}
