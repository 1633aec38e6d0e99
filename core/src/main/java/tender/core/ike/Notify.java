package tender.core.ike;

import java.nio.ByteBuffer;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.wire.ByteCursor;

/** What one side tells the other (RFC 7296 §3.10); types under 16384 are refusals. */
record Notify(int type, byte[] data) {
    static final int INVALID_MAJOR_VERSION = 5;
    static final int NO_PROPOSAL_CHOSEN = 14;
    static final int INVALID_KE = 17;
    static final int AUTHENTICATION_FAILED = 24;
    static final int INTERNAL_ADDRESS_FAILURE = 36;
    static final int FAILED_CP_REQUIRED = 37;
    static final int TS_UNACCEPTABLE = 38;
    static final int FIRST_STATUS = 16_384;
    static final int NAT_SOURCE = 16_388;
    static final int NAT_DESTINATION = 16_389;
    static final int COOKIE = 16_390;
    static final int FRAGMENTATION = 16_430;
    static final int SIGNATURE_HASHES = 16_431;
    private static final int[] HASHES = {2, 3, 4, 5};
    private static final Map<Integer, String> NAMES = Map.ofEntries(
            Map.entry(1, "UNSUPPORTED_CRITICAL_PAYLOAD"),
            Map.entry(4, "INVALID_IKE_SPI"),
            Map.entry(INVALID_MAJOR_VERSION, "INVALID_MAJOR_VERSION"),
            Map.entry(7, "INVALID_SYNTAX"),
            Map.entry(9, "INVALID_MESSAGE_ID"),
            Map.entry(NO_PROPOSAL_CHOSEN, "NO_PROPOSAL_CHOSEN"),
            Map.entry(INVALID_KE, "INVALID_KE_PAYLOAD"),
            Map.entry(AUTHENTICATION_FAILED, "AUTHENTICATION_FAILED"),
            Map.entry(34, "SINGLE_PAIR_REQUIRED"),
            Map.entry(35, "NO_ADDITIONAL_SAS"),
            Map.entry(INTERNAL_ADDRESS_FAILURE, "INTERNAL_ADDRESS_FAILURE"),
            Map.entry(FAILED_CP_REQUIRED, "FAILED_CP_REQUIRED"),
            Map.entry(TS_UNACCEPTABLE, "TS_UNACCEPTABLE"),
            Map.entry(43, "TEMPORARY_FAILURE"));

    static Payload of(int type, byte[] data) {
        return new Payload(
                Payload.NOTIFY,
                Bytes.join(
                        ByteBuffer.allocate(4)
                                .put((byte) 0)
                                .put((byte) 0)
                                .putShort((short) type)
                                .array(),
                        data));
    }

    /** Hashes that signatures may be made with here (RFC 7427 §4). */
    static Payload hashes() {
        ByteBuffer out = ByteBuffer.allocate(2 * HASHES.length);
        for (int hash : HASHES) {
            out.putShort((short) hash);
        }
        return of(SIGNATURE_HASHES, out.array());
    }

    static Notify read(Payload payload) {
        ByteCursor in = new ByteCursor(payload.body());
        in.skip(1);
        int spiBytes = in.u8();
        int type = in.u16();
        in.skip(spiBytes);
        return new Notify(type, in.rest());
    }

    static List<Notify> all(List<Payload> payloads) {
        return payloads.stream()
                .filter(p -> p.type() == Payload.NOTIFY)
                .map(Notify::read)
                .toList();
    }

    static Optional<Notify> one(List<Payload> payloads, int type) {
        return all(payloads).stream().filter(n -> n.type == type).findFirst();
    }

    static Optional<Notify> refusal(List<Payload> payloads) {
        return all(payloads).stream().filter(n -> n.type < FIRST_STATUS).findFirst();
    }

    String name() {
        return NAMES.getOrDefault(type, "refusal " + type);
    }
}
