package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.function.BiFunction;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.KeyStoreFile;
import tender.core.certificate.PemText;
import tender.core.certificate.PrivateKeyFile;
import tender.core.inspect.Hint;
import tender.core.inspect.Inspection;
import tender.core.inspect.Inspector;
import tender.core.profile.ClientRules;
import tender.core.wire.MalformedException;

/** Whether a PKCS#12 key store opens, and what is in it, asked of the real openssl for stores locked in every way it knows. */
class RealKeyStoreRulesTest {
    private static final int INPUTS = Integer.getInteger("tender.inputs", 80);
    private static final long SEED = Long.getLong("tender.seed", 20_261_130L);
    private static final Path CORPUS =
            Path.of("../core/src/test/resources/corpus/pem").toAbsolutePath();
    private static final List<String> LOCKS = List.of(
            "NONE",
            "AES-256-CBC",
            "AES-192-CBC",
            "AES-128-CBC",
            "DES-EDE3-CBC",
            "CAMELLIA-256-CBC",
            "ARIA-128-CBC",
            "DES-CBC",
            "RC2-CBC",
            "PBE-SHA1-3DES",
            "PBE-SHA1-2DES",
            "PBE-SHA1-RC2-40",
            "PBE-SHA1-RC2-128",
            "PBE-SHA1-RC4-128",
            "PBE-MD5-DES");
    private static final List<String> CHECKS =
            List.of("sha1", "sha224", "sha256", "sha384", "sha512", "sha3-256", "md5", "md4", "ripemd160", "sm3");
    private static final List<String> OLDEST = List.of(
            "aes128", "aes-256-cfb", "des", "des3", "camellia256", "aria192", "seed", "idea", "rc2", "bf", "cast");
    private static final List<String> WORDS = List.of("", "harbour light", "Fähre 7 €", "x");

    @TempDir
    Path folder;

    /** @param opens whether it opens with the word; the counts are of what is inside */
    private record Answer(boolean opens, int certificates, int keys) {}

    @Test
    void aKeyStoreOpensExactlyWhereOpensslOpensIt() throws IOException {
        skipWithoutOpenssl();
        Random random = new Random(SEED);
        List<String> made = new ArrayList<>();
        List<String> words = new ArrayList<>();
        for (int i = 0; i < INPUTS; i++) {
            String word = one(WORDS, random);
            made.add(command(i, word, random));
            words.add(random.nextInt(4) > 0 ? word : one(WORDS, random));
        }

        List<Optional<Answer>> real =
                asked(made, words, "openssl pkcs12 -in $i.p12 -passin \"pass:${words[i]}\" -noenc");

        compare(made, words, real, RealKeyStoreRulesTest::ours, "key stores");
    }

    private static void skipWithoutOpenssl() {
        if (!Shell.has("openssl")) {
            System.out.println("SKIPPED: no openssl here");
        }
        assumeTrue(Shell.has("openssl"));
    }

    private void compare(
            List<String> made,
            List<String> words,
            List<Optional<Answer>> real,
            BiFunction<byte[], String, Answer> how,
            String what)
            throws IOException {
        int opened = 0;
        int judged = 0;
        List<String> disagreements = new ArrayList<>();
        for (int i = 0; i < INPUTS; i++) {
            if (real.get(i).isEmpty()) {
                continue; // openssl does not make such a one
            }
            judged++;
            opened += real.get(i).get().opens() ? 1 : 0;
            Answer ours = how.apply(Files.readAllBytes(folder.resolve(i + ".p12")), words.get(i));
            if (!ours.equals(real.get(i).get())) {
                disagreements.add("it says " + real.get(i).get() + ", and we say " + ours + " with «" + words.get(i)
                        + "»: " + made.get(i));
            }
        }
        System.out.println("measured: " + judged + " " + what + " asked of openssl, " + opened + " opened, "
                + disagreements.size() + " disagreements");
        assertThat(opened).as("both kinds occur").isBetween(judged / 10, judged * 9 / 10);
        assertThat(disagreements).as("of " + judged).isEmpty();
    }

    @Test
    void aLockedKeyOpensExactlyWhereOpensslOpensIt() throws IOException {
        skipWithoutOpenssl();
        Random random = new Random(SEED);
        List<String> made = new ArrayList<>();
        List<String> words = new ArrayList<>();
        for (int i = 0; i < INPUTS; i++) {
            String word = one(WORDS.subList(1, WORDS.size()), random);
            made.add(lock(i, word, random));
            words.add(random.nextInt(4) > 0 ? word : one(WORDS, random));
        }

        List<Optional<Answer>> real = asked(made, words, "openssl pkey -in $i.p12 -passin \"pass:${words[i]}\"");

        compare(made, words, real, RealKeyStoreRulesTest::ourKey, "locked keys");
    }

    @ParameterizedTest
    @CsvSource({
        "pkcs12 -export -legacy -keypbe PBE-SHA1-RC2-40 -certpbe PBE-SHA1-3DES, '', false",
        "pkcs12 -export -legacy -keypbe PBE-SHA1-RC4-128 -certpbe PBE-SHA1-3DES, '', false",
        "pkcs12 -export -legacy -keypbe PBE-SHA1-RC2-40 -certpbe PBE-SHA1-RC2-40, providers legacy default, true",
        "pkcs12 -export -legacy -keypbe AES-128-CBC -certpbe AES-128-CBC -macalg md4, '', false",
        "pkcs12 -export -legacy -keypbe PBE-SHA1-3DES -certpbe PBE-SHA1-3DES, '', true",
        "pkcs12 -export -keypbe AES-256-CBC -certpbe ARIA-256-CBC, '', true",
        "pkcs8 -topk8 -v1 PBE-MD5-DES, '', false",
        "pkcs8 -topk8 -v2 DES-CBC, '', false",
        "pkcs8 -topk8 -v2 CAMELLIA-256-CBC, '', true",
        "ec -des, '', false",
        "ec -des3, '', true"
    })
    void whatTheRealClientDoesNotOpenIsSaidToBeRefused(String command, String line, boolean opens) throws IOException {
        boolean able =
                Shell.has("openvpn") && Shell.run("unshare", "-n", "true").code() == 0;
        if (!able) {
            System.out.println("SKIPPED: no openvpn here that runs in a network namespace");
        }
        assumeTrue(able);
        boolean store = command.startsWith("pkcs12");
        Path password = Files.writeString(folder.resolve("password"), "x\n");
        Path locked = folder.resolve("locked");
        Shell.need(
                "bash",
                "-c",
                "openssl " + command + " -provider default -provider legacy -in " + CORPUS.resolve("mara-and-key.pem")
                        + " -passout pass:x -out " + locked);
        String own = store
                ? "<pkcs12>\n" + Base64.getMimeEncoder().encodeToString(Files.readAllBytes(locked)) + "\n</pkcs12>\n"
                : "<cert>\n" + Files.readString(CORPUS.resolve("mara.crt")) + "</cert>\n<key>\n"
                        + Files.readString(locked) + "</key>\n";
        String text = "client\ndev null\nifconfig-noexec\nremote 127.0.0.1 9\n" + line + "\naskpass " + password + "\n"
                + "<ca>\n" + Files.readString(CORPUS.resolve("authority.crt")) + "</ca>\n" + own;
        Path file = Files.writeString(folder.resolve("locked.ovpn"), text);

        String said = Shell.run(
                        "timeout",
                        "10",
                        "unshare",
                        "-n",
                        "openvpn",
                        "--config",
                        file.toString(),
                        "--connect-retry-max",
                        "1",
                        "--server-poll-timeout",
                        "1")
                .out();

        assertThat(said.contains("link remote")).as(said).isEqualTo(opens);
        assertThat(ClientRules.refusal(text).isEmpty()).isEqualTo(opens);
        assertThat(Inspector.of("x.ovpn", text.getBytes(StandardCharsets.UTF_8), Instant.now(), Optional.of("x"))
                        .notes())
                .extracting(Inspection.Note::hint)
                .matches(notes -> notes.contains(Hint.LOCK_REFUSED) != opens);
    }

    @ParameterizedTest
    @EnumSource(KeyStoreFile.Form.class)
    void whatIsWrittenHereOpensThere(KeyStoreFile.Form form) throws IOException {
        skipWithoutOpenssl();
        for (String word : WORDS.subList(1, 3)) {
            CertificateKey key = CertificateKey.generate(CertificateKey.Kind.EC_P256, new SecureRandom());
            Instant now = Instant.now();
            byte[] certificate = Authority.make("mara", key, now, now.plusSeconds(60), new SecureRandom())
                    .certificate();
            Path file = Files.write(
                    folder.resolve("own.p12"),
                    KeyStoreFile.write(form, "mara", key, List.of(certificate), word, new SecureRandom()));

            String said = Shell.run(
                            "env",
                            "LC_ALL=C.UTF-8",
                            "openssl",
                            "pkcs12",
                            "-in",
                            file.toString(),
                            "-noenc",
                            "-passin",
                            "pass:" + word)
                    .out();

            assertThat(said).as(word).contains("BEGIN PRIVATE KEY", "BEGIN CERTIFICATE");
            assertThat(KeyStoreFile.of(Files.readAllBytes(file)).open(word))
                    .as(word)
                    .isPresent();
        }
    }

    private static String lock(int i, String word, Random random) {
        String key = CORPUS.resolve(random.nextBoolean() ? "ec-old-form.key" : "rsa-old-form.key")
                .toString();
        String out = " -out " + i + ".p12 -passout 'pass:" + word + "' -provider default -provider legacy";
        return switch (random.nextInt(4)) {
            case 0 ->
                "openssl " + (key.contains("ec-") ? "ec" : "rsa -traditional") + " -in " + key + " -"
                        + one(OLDEST, random) + out;
            case 1 -> "openssl pkcs8 -topk8 -in " + key + " -v1 " + one(LOCKS, random) + out;
            case 2 -> "openssl pkcs8 -topk8 -in " + key + " -scrypt -scrypt_N 1024" + out;
            default ->
                "openssl pkcs8 -topk8 -in " + key + " -v2 " + one(LOCKS, random) + " -v2prf hmacWithSHA"
                        + one(List.of("1", "224", "256", "384", "512", "512-256"), random) + " -iter "
                        + (1 + random.nextInt(2_000)) + out;
        };
    }

    private static Answer ourKey(byte[] content, String word) {
        try {
            PrivateKeyFile key = PrivateKeyFile.of(PemText.read(new String(content, StandardCharsets.US_ASCII))
                    .blocks()
                    .get(0));
            boolean opens =
                    !key.protection().orElseThrow().refused() && key.open(word).isPresent();
            return new Answer(opens, 0, opens ? 1 : 0);
        } catch (MalformedException e) {
            return new Answer(false, 0, 0);
        }
    }

    private static String one(List<String> of, Random random) {
        return of.get(random.nextInt(of.size()));
    }

    private static String command(int i, String word, Random random) {
        String inside = switch (random.nextInt(5)) {
            case 0 -> "-nokeys -in " + CORPUS.resolve("authority.crt");
            case 1 -> "-nocerts -in " + CORPUS.resolve("mara-and-key.pem");
            case 2 -> "-in " + CORPUS.resolve("mara-and-key.pem") + " -certfile " + CORPUS.resolve("authority.crt");
            default -> "-in " + CORPUS.resolve("mara-and-key.pem");
        };
        return "openssl pkcs12 -export -legacy -out " + i + ".p12 -passout 'pass:" + word + "' -keypbe "
                + one(LOCKS, random) + " -certpbe " + one(LOCKS, random) + " -iter " + (1 + random.nextInt(2_000))
                + (random.nextInt(6) == 0 ? " -nomac" : " -macalg " + one(CHECKS, random))
                + (random.nextInt(4) == 0 ? " -nomaciter" : "") + (random.nextBoolean() ? " -name mara" : "") + " "
                + inside;
    }

    private static Answer ours(byte[] content, String word) {
        try {
            KeyStoreFile store = KeyStoreFile.of(content);
            return store.isRefused()
                    ? new Answer(false, 0, 0)
                    : store.open(word)
                            .map(o -> new Answer(
                                    true, o.certificates().size(), o.key().isPresent() ? 1 : 0))
                            .orElse(new Answer(false, 0, 0));
        } catch (MalformedException e) {
            return new Answer(false, 0, 0);
        }
    }

    private List<Optional<Answer>> asked(List<String> made, List<String> words, String ask) throws IOException {
        Files.write(folder.resolve("made"), made, StandardCharsets.UTF_8);
        Files.write(folder.resolve("words"), words, StandardCharsets.UTF_8);
        Path script = Files.writeString(folder.resolve("ask.sh"), """
                export LC_ALL=C.UTF-8
                cd "$1"; mapfile -t made < made; mapfile -t words < words
                for ((i = $2; i < ${#made[@]}; i += 2)); do
                  eval "${made[i]}" </dev/null >/dev/null 2>&1 || { echo "$i none"; continue; }
                  if said=$(ASK </dev/null 2>/dev/null); then
                    echo "$i yes $(grep -c 'BEGIN CERT' <<<"$said") $(grep -c 'BEGIN PRIV' <<<"$said")"
                  else
                    echo "$i no 0 0"
                  fi
                done
                """.replace("ASK", ask));
        Shell.need(
                "bash",
                "-c",
                "for p in 0 1; do bash '" + script + "' '" + folder + "' $p > '" + folder + "'/said.$p & done; wait");
        List<Optional<Answer>> out = new ArrayList<>(java.util.Collections.nCopies(made.size(), Optional.empty()));
        for (int p = 0; p < 2; p++) {
            for (String line : Files.readAllLines(folder.resolve("said." + p))) {
                String[] w = line.split(" ");
                if (w.length == 4) {
                    out.set(
                            Integer.parseInt(w[0]),
                            Optional.of(
                                    new Answer(w[1].equals("yes"), Integer.parseInt(w[2]), Integer.parseInt(w[3]))));
                }
            }
        }
        return out;
    }
}
