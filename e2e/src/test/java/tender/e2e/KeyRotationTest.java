package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.UUID;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicReference;
import javax.crypto.Cipher;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.standins.office.SmallOffice;

/**
 * A new master key for fifty thousand secrets, while profiles are issued and through a power cut. What stands in the database
 * is looked at with the documented format and the JDK's own AES-GCM.
 */
class KeyRotationTest {
    private static final int MANY = 50_000;
    private static final Duration PATIENCE = Duration.ofSeconds(120);
    private static final List<String> COLUMNS = List.of(
            "installation.key_check",
            "installation.journal_key",
            "gateway.sign_in_key",
            "operator.totp_secret",
            "credential.secret",
            "authority.sealed_key",
            "certificate.sealed_key",
            "profile_revision.content",
            "backup.content",
            "imported_archive.content",
            "idempotency.answer");

    @TempDir
    Path folder;

    private final SecureRandom random = new SecureRandom();

    private record Key(String id, byte[] bytes) {
        static Key of(String line) {
            String[] parts = line.strip().split(":");
            return new Key(parts[0], HexFormat.of().parseHex(parts[1]));
        }
    }

    private byte[] crypt(int mode, Key key, byte[] nonce, String place, byte[] input) throws Exception {
        Cipher cipher = Cipher.getInstance("AES/GCM/NoPadding");
        cipher.init(mode, new SecretKeySpec(key.bytes(), "AES"), new GCMParameterSpec(128, nonce));
        cipher.updateAAD(place.getBytes(StandardCharsets.UTF_8));
        return cipher.doFinal(input);
    }

    private byte[] seal(Key key, String place, String text) throws Exception {
        byte[] nonce = new byte[12];
        random.nextBytes(nonce);
        byte[] sealed = crypt(Cipher.ENCRYPT_MODE, key, nonce, place, text.getBytes(StandardCharsets.UTF_8));
        byte[] id = key.id().getBytes(StandardCharsets.US_ASCII);
        return ByteBuffer.allocate(1 + id.length + nonce.length + sealed.length)
                .put((byte) id.length)
                .put(id)
                .put(nonce)
                .put(sealed)
                .array();
    }

    private String open(Key key, String place, byte[] stored) throws Exception {
        int from = 1 + stored[0];
        byte[] nonce = Arrays.copyOfRange(stored, from, from + 12);
        return new String(
                crypt(Cipher.DECRYPT_MODE, key, nonce, place, Arrays.copyOfRange(stored, from + 12, stored.length)),
                StandardCharsets.UTF_8);
    }

    private void fill(Tender tender, Key key) throws Exception {
        List<String> lines = new ArrayList<>();
        for (int i = 0; i < MANY; i++) {
            UUID id = UUID.randomUUID();
            lines.add(id + ",PRESHARED_KEY,filled,\\x"
                    + HexFormat.of().formatHex(seal(key, "credential.secret/" + id, "secret " + id))
                    + ",HELD,MADE,2026-11-01");
        }
        Path rows = Files.write(folder.resolve("rows.csv"), lines);
        String copied = tender.query("\\copy credential (id, kind, purpose, secret, custody, state, created_at) from '"
                + rows + "' with (format csv)");
        assertThat(copied).doesNotContain("ERROR");
        assertThat(tender.query("select count(*) from credential where purpose = 'filled'"))
                .isEqualTo(Integer.toString(MANY));
    }

    private static String prefix(Key key) {
        return "'\\x%02x%s'::bytea"
                .formatted(key.id().length(), HexFormat.of().formatHex(key.id().getBytes(StandardCharsets.US_ASCII)));
    }

    private Key keyOf(Path file) throws IOException {
        List<String> lines = Files.readAllLines(file);
        assertThat(lines).hasSize(1);
        return Key.of(lines.get(0));
    }

    @Test
    void fiftyThousandSecretsComeUnderANewKeyWhileIssuingGoesOnAndThroughAPowerCut() throws Exception {
        try (SmallOffice office = SmallOffice.start(folder.resolve("office"), "127.10.97.1");
                Tender tender = new Tender(folder, office)) {
            Path file = folder.resolve("data/master-key");
            Key old = keyOf(file);
            tender.addRouter(office, "mara", "phone");
            fill(tender, old);
            AtomicBoolean goOn = new AtomicBoolean(true);
            AtomicInteger issued = new AtomicInteger();
            AtomicReference<String> last = new AtomicReference<>("");
            Thread issuing = new Thread(() -> {
                while (goOn.get()) {
                    String device = "d" + issued.get();
                    tender.tryClient("device", "add", "mara", device, "--kind", "phone");
                    Shell.Result result = tender.tryClient("profile", "issue", "mara", device, "--gateway", "pier2");
                    last.set(result.out());
                    if (result.code() == 0 || result.out().contains("already")) {
                        issued.incrementAndGet(); // also one whose answer was lost with the service
                    }
                }
            });
            issuing.start();
            assertThat(tender.client("key", "status")).contains("never rotated");
            assertThat(tender.client("key", "rotate", "--yes", "--no-wait")).containsAnyOf("waiting", "running");
            assertThat(tender.tryClient("key", "rotate", "--yes", "--no-wait").code())
                    .as("one rotation at a time")
                    .isNotZero();
            Shell.until(
                    "a good part to be done",
                    PATIENCE,
                    () -> tender.query(
                                    "select count(*) > 10000 from credential where substring(secret from 1 for 3) <> "
                                            + prefix(old))
                            .equals("t"));
            tender.kill();
            assertThat(tender.query("select count(*) > 10000 from credential where substring(secret from 1 for 3) = "
                            + prefix(old)))
                    .as("it was cut short")
                    .isEqualTo("t");
            tender.start();
            tender.moved();
            Shell.until(
                    "the rotation to end",
                    PATIENCE,
                    () -> tender.query("select count(*) from key_rotation where ended_at is not null")
                            .equals("1"));
            goOn.set(false);
            issuing.join();

            for (String column : COLUMNS) {
                String[] at = column.split("\\.");
                assertThat(tender.query("select count(*) from " + at[0] + " where " + at[1]
                                + " is not null and substring(" + at[1] + " from 1 for 3) = " + prefix(old)))
                        .as(column + " under the old key")
                        .isEqualTo("0");
            }
            assertThat(tender.query("select count(*) from key_rotation where wrapped is not null"))
                    .isEqualTo("0");
            Shell.until("the old key to be put aside", PATIENCE, () -> {
                try {
                    return Files.readAllLines(file).size() == 1;
                } catch (IOException e) {
                    throw new IllegalStateException(e);
                }
            });
            Key fresh = keyOf(file);
            assertThat(fresh.id()).isNotEqualTo(old.id());
            assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(file)))
                    .isEqualTo("rw-------");
            assertThat(keyOf(folder.resolve("data/master-key.before-" + fresh.id()))
                            .bytes())
                    .as("for backups of the database from before")
                    .isEqualTo(old.bytes());
            for (String row : tender.query("select id || ' ' || encode(secret, 'hex') from credential"
                            + " where purpose = 'filled' order by random() limit 50")
                    .lines()
                    .toList()) {
                String[] parts = row.split(" ");
                assertThat(open(
                                fresh,
                                "credential.secret/" + parts[0],
                                HexFormat.of().parseHex(parts[1])))
                        .isEqualTo("secret " + parts[0]);
            }

            assertThat(issued.get()).as("issued meanwhile: " + last.get()).isPositive();
            tender.kill();
            tender.start();
            tender.moved();
            assertThat(tender.client("key", "status")).contains(fresh.id(), "ended", "owner");
            Shell.Result trial = tender.tryClient("trial", "run", "mara-d0-pier2");
            assertThat(trial.code())
                    .as("what was issued meanwhile works: " + trial.out())
                    .isZero();
            assertThat(tender.client("journal", "list")).contains("master key rotation ended");
            assertThat(Files.readString(tender.log()))
                    .doesNotContain(HexFormat.of().formatHex(fresh.bytes()));
        }
    }
}
