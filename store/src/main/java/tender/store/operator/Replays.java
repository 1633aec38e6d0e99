package tender.store.operator;

import java.time.Instant;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.Secret;
import tender.store.jdbc.Tx;
import tender.store.secret.ColumnCipher;
import tender.store.secret.EncryptedColumn;

/** Answers to creating calls by idempotency key, encrypted since they may hold a secret shown once. */
public final class Replays {
    /** A key's first use; {@code answer} is empty while that call is still running. */
    public record Replay(String requestDigest, Optional<Integer> status, Optional<Secret> answer, Instant createdAt) {}

    private final ColumnCipher cipher;

    public Replays(ColumnCipher cipher) {
        this.cipher = cipher;
    }

    private static final String CLAIM = """
            insert into idempotency (operator_id, key, request_digest, created_at)
            values (?, ?, ?, ?)
            on conflict do nothing""";

    /** Whether this call is the key's first. */
    public boolean claim(Tx tx, UUID operatorId, String key, String digest, Instant now) {
        return tx.update(CLAIM, p -> p.id(operatorId).text(key).text(digest).instant(now)) == 1;
    }

    private static final String FIND = """
            select request_digest, status, answer, created_at
            from idempotency
            where operator_id = ? and key = ?""";

    public Optional<Replay> find(Tx tx, UUID operatorId, String key) {
        return tx.first(
                FIND,
                p -> p.id(operatorId).text(key),
                row -> new Replay(
                        row.text("request_digest"),
                        row.optionalNumber("status").map(Long::intValue),
                        Optional.ofNullable(row.bytes("answer"))
                                .map(b -> cipher.open(b, EncryptedColumn.REPLAY, operatorId + "/" + key)),
                        row.instant("created_at")));
    }

    private static final String ANSWER =
            "update idempotency set status = ?, answer = ? where operator_id = ? and key = ?";

    public void answer(Tx tx, UUID operatorId, String key, int status, Secret answer) {
        tx.update(
                ANSWER,
                p -> p.integer(status)
                        .bytes(cipher.seal(answer, EncryptedColumn.REPLAY, operatorId + "/" + key))
                        .id(operatorId)
                        .text(key));
    }

    private static final String FORGET = "delete from idempotency where operator_id = ? and key = ?";

    public void forget(Tx tx, UUID operatorId, String key) {
        tx.update(FORGET, p -> p.id(operatorId).text(key));
    }

    private static final String PURGE = "delete from idempotency where created_at < ?";

    public static void purge(Tx tx, Instant before) {
        tx.update(PURGE, p -> p.instant(before));
    }
}
