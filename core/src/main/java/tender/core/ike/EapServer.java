package tender.core.ike;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Optional;
import tender.core.credential.RevealSecret;

/** A server's side of EAP (RFC 3748) by name and password, MSCHAPv2 inside. */
final class EapServer {
    private static final int ANSWER_BYTES = 59;

    private final IkeRules rules;
    private final SecureRandom random;
    private Optional<MsChap> exchange = Optional.empty();
    private byte[] challenge = new byte[0];
    private String account = "";
    private boolean done;
    private boolean failed;

    EapServer(IkeRules rules, SecureRandom random) {
        this.rules = rules;
        this.random = random;
    }

    /** Who says to be calling; empty before anybody did. */
    String account() {
        return account;
    }

    boolean isDone() {
        return done;
    }

    boolean isFailed() {
        return failed;
    }

    /** The key that proves both sides afterwards; only once it is done. */
    byte[] key() {
        return exchange.orElseThrow().key();
    }

    /** The answer to a packet of the caller's. */
    byte[] on(byte[] packet) {
        int id = packet.length > 1 ? packet[1] & 0xff : 0;
        int type = packet.length > 4 ? packet[4] & 0xff : 0;
        boolean mschap = type == Eap.MSCHAPV2 && packet.length >= 6;
        if (type == Eap.IDENTITY) {
            account = new String(packet, 5, packet.length - 5, StandardCharsets.UTF_8).replaceAll("\\p{Cntrl}", "?");
            challenge = Bytes.random(random, 16);
            return step(Eap.CHALLENGE, id, Bytes.join(new byte[] {16}, challenge, ascii(rules.identity())));
        }
        if (mschap && packet[5] == Eap.ANSWER && packet.length >= ANSWER_BYTES) {
            return judged(packet, id);
        }
        if (mschap && packet[5] == Eap.ACCEPTED && exchange.isPresent()) {
            done = true;
            return Eap.packet(Eap.SUCCESS, id, new byte[0]);
        }
        failed = true;
        return Eap.packet(Eap.FAILURE, id, new byte[0]);
    }

    private byte[] judged(byte[] packet, int id) {
        byte[] peer = Arrays.copyOfRange(packet, 10, 26);
        byte[] response = Arrays.copyOfRange(packet, 34, 58);
        Optional<MsChap> right = rules.password(account)
                .map(p -> new MsChap(account, p.revealText(RevealSecret.TO_HANDSHAKE), challenge, peer))
                .filter(e -> MessageDigest.isEqual(e.response(), response));
        if (right.isEmpty()) {
            rules.log("ike: EAP-MSCHAPv2 verification failed for " + account);
            return step(Eap.REFUSED, id, ascii("E=691 R=0 C=0 V=3 M=refused"));
        }
        exchange = right;
        return step(Eap.ACCEPTED, id, ascii(right.get().authenticator() + " M=welcome"));
    }

    private static byte[] step(int opcode, int id, byte[] rest) {
        return Eap.packet(Eap.REQUEST, id + 1, Eap.mschap(opcode, id + 1, rest));
    }

    private static byte[] ascii(String text) {
        return text.getBytes(StandardCharsets.US_ASCII);
    }
}
