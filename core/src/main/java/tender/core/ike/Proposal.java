package tender.core.ike;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.wire.ByteCursor;
import tender.core.wire.MalformedException;

/**
 * Algorithms that go together (RFC 7296 §3.3.1); several of one type are a choice.
 *
 * @param protocol 1 for IKE, 3 for ESP
 * @param spi of the side that says it; empty at the first exchange
 */
record Proposal(int number, int protocol, byte[] spi, List<Transform> transforms) {
    static final int IKE = 1;
    static final int ESP = 3;
    private static final int MAX = 64;
    private static final int KEY_LENGTH = 0x800e;

    Proposal {
        transforms = List.copyOf(transforms);
    }

    /** Reads a line of settings: proposals by commas, algorithms by hyphens; ESP's take no group at the first exchange. */
    static List<Proposal> parse(int protocol, String text, byte[] spi) {
        List<Proposal> out = new ArrayList<>();
        for (String one : text.split("\\s*,\\s*")) {
            if (one.equals("default")) {
                continue;
            }
            List<Transform> all = new ArrayList<>();
            for (String word : one.strip().split("\\s*-\\s*")) {
                if (!word.isEmpty() && !word.matches("no_?esn|esn|none|modpnone")) {
                    all.add(Transform.parse(word));
                }
            }
            if (protocol == ESP) {
                all.removeIf(t -> t.type() == Transform.GROUP || t.type() == Transform.PRF);
                all.add(Transform.SHORT_NUMBERS);
            } else if (all.stream().noneMatch(t -> t.type() == Transform.PRF)) {
                all.stream()
                        .filter(t -> t.type() == Transform.INTEGRITY)
                        .map(Transform::prfOf)
                        .toList()
                        .forEach(all::add);
            }
            // with a cipher that authenticates, the hash is the pseudo-random function's
            if (all.stream().anyMatch(Transform::isAuthenticated)) {
                all.removeIf(t -> t.type() == Transform.INTEGRITY);
            }
            out.add(new Proposal(out.size() + 1, protocol, spi, all));
        }
        return out;
    }

    /** Whether all of a proposal's algorithms are known here, and none is missing that is needed. */
    static boolean isTried(int protocol, String text) {
        try {
            List<Proposal> all = parse(protocol, text, new byte[0]);
            return !text.matches("(?:.*-)?esn(?:-.*)?")
                    && all.stream()
                            .allMatch(p -> p.one(Transform.CIPHER).isPresent()
                                    && (protocol == ESP
                                            || p.one(Transform.GROUP).isPresent()));
        } catch (MalformedException e) {
            return false;
        }
    }

    Optional<Transform> one(int type) {
        return transforms.stream().filter(t -> t.type() == type).findFirst();
    }

    Transform need(int type) {
        return one(type).orElseThrow(() -> new MalformedException("proposal", "", "it lacks a kind of algorithm"));
    }

    /** What of this proposal is taken where an own one allows it: one algorithm of each type; empty where one is missing. */
    Optional<Proposal> chosenBy(Proposal own) {
        List<Transform> out = new ArrayList<>();
        for (int type : own.transforms.stream().map(Transform::type).distinct().toList()) {
            Optional<Transform> both = transforms.stream()
                    .filter(t -> t.type() == type && own.transforms.contains(t))
                    .findFirst();
            if (both.isEmpty()) {
                return Optional.empty();
            }
            out.add(both.get());
        }
        // a type that the own side does not know of cannot be left out
        boolean more = transforms.stream().anyMatch(t -> out.stream().noneMatch(o -> o.type() == t.type()));
        return more ? Optional.empty() : Optional.of(new Proposal(number, protocol, spi, out));
    }

    static byte[] encode(List<Proposal> proposals) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        for (int i = 0; i < proposals.size(); i++) {
            Proposal p = proposals.get(i);
            ByteArrayOutputStream body = new ByteArrayOutputStream();
            for (int j = 0; j < p.transforms.size(); j++) {
                Transform t = p.transforms.get(j);
                int length = t.keyBits() == 0 ? 8 : 12;
                ByteBuffer one = ByteBuffer.allocate(length)
                        .put((byte) (j < p.transforms.size() - 1 ? 3 : 0))
                        .put((byte) 0)
                        .putShort((short) length)
                        .put((byte) t.type())
                        .put((byte) 0)
                        .putShort((short) t.id());
                if (t.keyBits() != 0) {
                    one.putShort((short) KEY_LENGTH).putShort((short) t.keyBits());
                }
                body.writeBytes(one.array());
            }
            out.writeBytes(ByteBuffer.allocate(8)
                    .put((byte) (i < proposals.size() - 1 ? 2 : 0))
                    .put((byte) 0)
                    .putShort((short) (8 + p.spi.length + body.size()))
                    .put((byte) p.number)
                    .put((byte) p.protocol)
                    .put((byte) p.spi.length)
                    .put((byte) p.transforms.size())
                    .array());
            out.writeBytes(p.spi);
            out.writeBytes(body.toByteArray());
        }
        return out.toByteArray();
    }

    static List<Proposal> decode(byte[] body) {
        ByteCursor in = new ByteCursor(body);
        List<Proposal> out = new ArrayList<>();
        while (in.remaining() > 0 && out.size() < MAX) {
            in.skip(2);
            int length = in.u16();
            ByteCursor p = new ByteCursor(in.bytes(length - 4));
            int number = p.u8();
            int protocol = p.u8();
            int spiBytes = p.u8();
            int count = p.u8();
            byte[] spi = p.bytes(spiBytes);
            List<Transform> transforms = new ArrayList<>();
            for (int i = 0; i < count; i++) {
                transforms.add(transform(p));
            }
            out.add(new Proposal(number, protocol, spi, transforms));
        }
        return out;
    }

    private static Transform transform(ByteCursor p) {
        p.skip(2);
        int length = p.u16();
        ByteCursor t = new ByteCursor(p.bytes(length - 4));
        int type = t.u8();
        t.skip(1);
        int id = t.u16();
        int bits = 0;
        while (t.remaining() >= 4) {
            int attribute = t.u16();
            int value = t.u16();
            if (attribute == KEY_LENGTH) {
                bits = value;
            } else if ((attribute & 0x8000) == 0) {
                t.skip(value);
            }
        }
        return new Transform(type, id, bits);
    }

    /** For people: the algorithms in order. */
    String words() {
        StringBuilder out = new StringBuilder();
        transforms.stream()
                .filter(t -> t.type() != Transform.SEQUENCE)
                .forEach(t -> out.append(out.length() == 0 ? "" : ", ").append(t.words()));
        return out.toString();
    }
}
