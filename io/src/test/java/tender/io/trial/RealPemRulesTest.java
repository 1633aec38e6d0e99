package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.inspect.Hint;
import tender.core.inspect.Inspection;
import tender.core.inspect.Inspector;

/** Whether a certificate, key or list in PEM can be read at all, asked of the real openssl over many changed files. */
class RealPemRulesTest {
    private static final int INPUTS = Integer.getInteger("tender.inputs", 300);
    private static final long SEED = Long.getLong("tender.seed", 20_261_130L);
    private static final Path CORPUS = Path.of("../core/src/test/resources/corpus");
    private static final List<String> LINES = List.of(
            "",
            " ",
            "-----BEGIN CERTIFICATE-----",
            "-----END CERTIFICATE-----",
            "-----BEGIN NOTHING-----",
            "subject=CN = mara",
            "Proc-Type: 4,CLEAR",
            "Bag Attributes",
            "AAAA",
            "=",
            "=====",
            "-----",
            "# a comment",
            "MIIB");
    private static final List<String> ODDITIES =
            List.of(" ", "\t", "\r", "\0", "=", "-", "A", "/", "*", "\ufeff", "é", "\n", "\n\n", ":", "\u000b");

    @TempDir
    Path folder;

    /** Files with one object each, and the command that reads such an object. */
    private static Map<String, String> seeds() throws IOException {
        Map<String, String> out = new LinkedHashMap<>();
        for (String name : List.of("pem/mara.crt", "pem/authority.crt", "pem/server.crt", "pem/short.crt")) {
            out.put(Files.readString(CORPUS.resolve(name)), "x509");
        }
        for (String name : List.of("pem/ec-old-form.key", "pem/rsa-old-form.key")) {
            out.put(Files.readString(CORPUS.resolve(name)), "pkey");
        }
        out.put(Files.readString(CORPUS.resolve("crl/good.crl")), "crl");
        out.put(Files.readString(CORPUS.resolve("pem/mara.csr")), "req");
        return out;
    }

    @Test
    void anObjectIsReadExactlyWhereOpensslReadsIt() throws IOException {
        if (!Shell.has("openssl")) {
            System.out.println("SKIPPED: no openssl here");
        }
        assumeTrue(Shell.has("openssl"));
        Random random = new Random(SEED);
        List<Map.Entry<String, String>> seeds = new ArrayList<>(seeds().entrySet());
        List<String> texts = new ArrayList<>();
        List<String> commands = new ArrayList<>();
        for (int i = 0; i < INPUTS; i++) {
            Map.Entry<String, String> seed = seeds.get(i % seeds.size());
            String text = seed.getKey();
            for (int n = i < seeds.size() ? 0 : 1 + random.nextInt(2); n > 0; n--) {
                text = changed(text, random);
            }
            texts.add(text);
            commands.add(seed.getValue());
        }

        for (int i = 0; i < texts.size(); i++) {
            Files.writeString(folder.resolve(i + ".pem"), texts.get(i), StandardCharsets.UTF_8);
        }
        List<Boolean> real = asked(commands, "PEM");

        int read = 0;
        List<String> disagreements = new ArrayList<>();
        for (int i = 0; i < texts.size(); i++) {
            read += real.get(i) ? 1 : 0;
            Inspection ours = Inspector.of(
                    "x.pem", texts.get(i).getBytes(StandardCharsets.UTF_8), Instant.now(), Optional.empty());
            int end = 1
                    + (int) texts.get(i)
                            .lines()
                            .takeWhile(l -> !l.startsWith("-----END"))
                            .count();
            boolean reads = ours.notes().stream()
                            .noneMatch(
                                    n -> n.hint() == Hint.UNREAD && n.line() <= end // it reads the first object alone
                                            || n.hint() == Hint.NOT_KNOWN)
                    && ours.kind() != Inspection.Kind.UNKNOWN;
            if (reads != real.get(i)) {
                disagreements.add(commands.get(i) + (real.get(i) ? " reads it" : " refuses it") + ", and we say "
                        + ours.kind() + " " + ours.notes() + ":\n" + texts.get(i));
            }
        }
        System.out.println("measured: " + texts.size() + " PEM files asked of openssl, " + read + " read, "
                + disagreements.size() + " disagreements");
        assertThat(read).as("both kinds occur").isBetween(texts.size() / 20, texts.size() * 19 / 20);
        assertThat(disagreements).as("of " + texts.size()).isEmpty();
    }

    @Test
    void theBareFormIsReadExactlyWhereOpensslReadsIt() throws IOException {
        if (!Shell.has("openssl")) {
            System.out.println("SKIPPED: no openssl here");
        }
        assumeTrue(Shell.has("openssl"));
        Random random = new Random(SEED);
        Map<String, String> seeds = Map.of("crl/good.der", "crl", "der/mara.cer", "x509");
        List<String> names = List.copyOf(seeds.keySet().stream().sorted().toList());
        List<byte[]> contents = new ArrayList<>();
        List<String> commands = new ArrayList<>();
        for (int i = 0; i < INPUTS; i++) {
            String name = names.get(i % names.size());
            byte[] content = Files.readAllBytes(CORPUS.resolve(name));
            contents.add(i < names.size() ? content : changed(content, random));
            commands.add(seeds.get(name));
            Files.write(folder.resolve(i + ".pem"), contents.get(i));
        }

        List<Boolean> real = asked(commands, "DER");

        List<String> disagreements = new ArrayList<>();
        for (int i = 0; i < contents.size(); i++) {
            boolean reads = reads(commands.get(i), contents.get(i));
            if (reads != real.get(i)) {
                disagreements.add(commands.get(i) + (real.get(i) ? " reads it" : " refuses it") + ": "
                        + HexFormat.of().formatHex(contents.get(i)));
            }
        }
        System.out.println("measured: " + contents.size() + " DER files asked of openssl, " + disagreements.size()
                + " disagreements");
        assertThat(disagreements).as("of " + contents.size()).isEmpty();
    }

    private static boolean reads(String command, byte[] content) {
        return Inspector.of("x.der", content, Instant.now(), Optional.empty()).kind()
                == (command.equals("crl") ? Inspection.Kind.REVOCATION_LIST : Inspection.Kind.CERTIFICATES);
    }

    /** Cut off, or with something behind; a file with other bytes inside has lost its signature, whoever reads it. */
    private static byte[] changed(byte[] content, Random random) {
        return random.nextBoolean()
                ? Arrays.copyOf(content, random.nextInt(content.length))
                : Arrays.copyOf(content, content.length + 1 + random.nextInt(40));
    }

    private static String changed(String text, Random random) {
        List<String> lines = new ArrayList<>(Arrays.asList(text.split("\n", -1)));
        int at = random.nextInt(lines.size());
        String line = lines.get(at);
        switch (random.nextInt(9)) {
            case 0 -> lines.remove(at);
            case 1 -> lines.add(at, line);
            case 2 -> lines.add(at, LINES.get(random.nextInt(LINES.size())));
            case 3, 4 -> {
                int c = random.nextInt(line.length() + 1);
                lines.set(at, line.substring(0, c) + ODDITIES.get(random.nextInt(ODDITIES.size())) + line.substring(c));
            }
            case 5 -> {
                int c = line.isEmpty() ? 0 : random.nextInt(line.length());
                lines.set(at, line.isEmpty() ? line : line.substring(0, c) + line.substring(c + 1));
            }
            case 6 -> lines.replaceAll(l -> l + "\r");
            case 7 -> lines.replaceAll(l -> " " + l);
            default -> {
                String next = at + 1 < lines.size() ? lines.remove(at + 1) : "";
                lines.set(at, line + (random.nextBoolean() ? " " : "") + next);
            }
        }
        return String.join("\n", lines.isEmpty() ? List.of("") : lines);
    }

    private List<Boolean> asked(List<String> commands, String form) throws IOException {
        Path list = Files.write(folder.resolve("commands"), commands);
        Path script = Files.writeString(folder.resolve("ask.sh"), """
                cd "$1"; mapfile -t commands < "$2"
                for ((i = $3; i < ${#commands[@]}; i += 2)); do
                  if openssl "${commands[i]}" -in $i.pem -inform FORM -noout </dev/null >/dev/null 2>&1; then echo "$i yes"; else echo "$i no"; fi
                done
                """.replace("FORM", form));
        Shell.need(
                "bash",
                "-c",
                "for p in 0 1; do bash '" + script + "' '" + folder + "' '" + list + "' $p > '" + folder
                        + "'/verdicts.$p & done; wait");
        Boolean[] out = new Boolean[commands.size()];
        for (int p = 0; p < 2; p++) {
            for (String line : Files.readAllLines(folder.resolve("verdicts." + p))) {
                out[Integer.parseInt(line.split(" ")[0])] = line.endsWith("yes");
            }
        }
        return Arrays.asList(out);
    }
}
