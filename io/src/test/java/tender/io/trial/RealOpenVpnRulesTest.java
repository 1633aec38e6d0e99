package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.profile.OpenVpnDirectives;
import tender.core.profile.OpenVpnRules;

/**
 * Whether lines are taken, asked of the real OpenVPN over thousands of changed files and every directive. It is asked to read
 * the file and to list its ciphers then, so that nothing is connected or run.
 */
class RealOpenVpnRulesTest {
    private static final int INPUTS = Integer.getInteger("tender.inputs", 600);
    private static final long SEED = Long.getLong("tender.seed", 20_261_128L);
    private static final List<String> LINES = List.of(
            "--client",
            "--dev tun",
            "---client",
            "remote 192.0.2.7 1194 udp",
            "remote 192.0.2.7 1194 udp x",
            "remote",
            "\"remote\" 192.0.2.7",
            "'remote' \"192.0.2.7\" 1194",
            "remote \"192.0.2.7\"1194",
            "route 10.0.0.0 255.0.0.0 a b c",
            "setenv opt block-outside-dns",
            "setenv opt nosuch a b c",
            "setenv opt",
            "setenv A",
            "setenv",
            "setenv A b c",
            "ignore-unknown-option nosuch other",
            "nosuch",
            "nosuch 1 2",
            "other",
            "Client",
            "client x",
            "cipher",
            "cipher a b",
            "auth-nocache 1",
            "verb 3 4",
            "verb",
            "<ca>",
            "</ca>",
            "<ca>\nx\n</ca>",
            "<ca>\nx\n</caput> y",
            "<cipher>\nx\n</cipher>",
            "<connection>\nremote 192.0.2.7\n</connection>",
            "<connection>\n</connection>",
            "<nosuch>\nx\n</nosuch>",
            "<connection>\nremote 192.0.2.7\nverb 3\n</connection>",
            "<connection>\nremote 192.0.2.7\nproto tcp\n</connection>",
            "<ca >",
            "< ca>",
            "<>",
            "tls-auth ta.key 1 # note",
            "tls-auth ta.key;1",
            "echo a b c d e f g h i j k l m n o p q r",
            "up C:\\dir\\up.bat",
            "up C:\\\\dir\\\\up.bat",
            "up 'C:\\dir\\up.bat'",
            "up \"a b\"",
            "up \"a b",
            "up 'a b",
            "up a\\ b",
            "ns-cert-type server",
            "tls-remote x",
            "comp-lzo",
            "persist-key",
            "max-routes 5",
            "key-method 2",
            "ncp-disable",
            "tun-ipv6",
            "auth-user-pass a b",
            "pkcs12 a b",
            "; c",
            "# c",
            "a=b",
            "client;",
            "client#x",
            "\"",
            "'",
            "\\");
    private static final List<String> ODDITIES = List.of(
            "\0",
            "\r",
            "\t",
            " ",
            "\ufeff",
            "#",
            ";",
            "\"",
            "'",
            "\\",
            "\\ ",
            "\\\\",
            "--",
            "-",
            "<",
            ">",
            "\u00a0",
            "\n",
            "\u000b",
            "é",
            "x".repeat(240),
            " ".repeat(250));

    @TempDir
    Path folder;

    @BeforeEach
    void able() {
        boolean able = Shell.has("openvpn");
        if (!able) {
            System.out.println("SKIPPED: no openvpn here");
        }
        assumeTrue(able);
    }

    @Test
    void everyDirectiveTakesTheWordsThatTheRealProgramTakes() throws IOException {
        List<String> texts = new ArrayList<>();
        for (OpenVpnDirectives.Shape shape : OpenVpnDirectives.all()) {
            for (int words = Math.max(0, shape.fewest() - 1); words <= shape.fewest() + 3; words++) {
                texts.add(shape.name() + " x".repeat(words) + "\n");
            }
            texts.add(shape.name() + " x".repeat(Math.min(12, shape.most())) + "\n");
            texts.add("<" + shape.name() + ">\nx\n</" + shape.name() + ">\n");
            texts.add("<connection>\nremote 192.0.2.7\n" + shape.name() + " x".repeat(shape.fewest())
                    + "\n</connection>\n");
        }
        assertThat(texts).hasSizeGreaterThan(1_500);

        agree(texts, 0.3);
    }

    @Test
    void aFileIsTakenExactlyWhereTheRealProgramTakesItsLines() throws IOException {
        Random random = new Random(SEED);
        List<String> seeds = seeds();
        List<String> texts = new ArrayList<>(seeds);
        while (texts.size() < INPUTS) {
            String text = seeds.get(random.nextInt(seeds.size()));
            for (int n = 1 + random.nextInt(3); n > 0; n--) {
                text = changed(text, random);
            }
            texts.add(text);
        }

        agree(texts, 0.1);
    }

    private void agree(List<String> texts, double least) throws IOException {
        List<String> verdicts = asked(texts);
        int taken = 0;
        int judged = 0;
        List<String> disagreements = new ArrayList<>();
        for (int i = 0; i < texts.size(); i++) {
            if (verdicts.get(i).equals("values")) {
                continue; // the lines are taken, and what they say is not: it may have ended before another fault
            }
            judged++;
            boolean really = verdicts.get(i).equals("taken");
            taken += really ? 1 : 0;
            if (OpenVpnRules.lines(texts.get(i)).isEmpty() != really) {
                disagreements.add(
                        verdicts.get(i) + ", and we say " + OpenVpnRules.lines(texts.get(i)) + ":\n" + texts.get(i)
                                + "\n" + Files.readString(folder.resolve(i + "/said"), StandardCharsets.ISO_8859_1));
            }
        }
        System.out.println("measured: " + judged + " of " + texts.size() + " OpenVPN files judged by openvpn, " + taken
                + " taken, " + disagreements.size() + " disagreements");
        assertThat((double) judged / texts.size()).isGreaterThan(least);
        assertThat(taken).as("both kinds occur").isBetween(judged / 20, judged * 19 / 20);
        assertThat(disagreements).as("of " + judged).isEmpty();
    }

    private static List<String> seeds() throws IOException {
        List<String> out = new ArrayList<>();
        try (Stream<Path> all = Files.walk(Path.of("../core/src/test/resources/corpus/openvpn"))) {
            for (Path file : all.filter(p -> p.toString().matches(".*\\.(ovpn|conf)"))
                    .sorted()
                    .toList()) {
                out.add(new String(Files.readAllBytes(file), StandardCharsets.UTF_8));
            }
        }
        return out;
    }

    private static String changed(String text, Random random) {
        List<String> lines = new ArrayList<>(Arrays.asList(text.split("\n", -1)));
        int at = random.nextInt(lines.size());
        String line = lines.get(at);
        switch (random.nextInt(8)) {
            case 0 -> lines.remove(at);
            case 1 -> lines.add(random.nextInt(lines.size()), line);
            case 2, 3 -> lines.add(at, pick(LINES, random));
            case 4 -> lines.set(at, line + " " + pick(LINES, random));
            case 5 -> {
                int c = random.nextInt(line.length() + 1);
                lines.set(at, line.substring(0, c) + pick(ODDITIES, random) + line.substring(c));
            }
            case 6 -> lines.add(0, pick(ODDITIES, random) + lines.remove(0));
            default -> lines.replaceAll(l -> l + "\r");
        }
        return String.join("\n", lines.isEmpty() ? List.of("") : lines);
    }

    private static String pick(List<String> from, Random random) {
        return from.get(random.nextInt(from.size()));
    }

    /** For each: taken, refused, or values where the lines are taken and what they say is not. */
    private List<String> asked(List<String> texts) throws IOException {
        for (int i = 0; i < texts.size(); i++) {
            Files.createDirectories(folder.resolve(Integer.toString(i)));
            Files.writeString(folder.resolve(i + "/f.conf"), texts.get(i), StandardCharsets.UTF_8);
        }
        Path script = Files.writeString(folder.resolve("ask.sh"), """
                for ((i = $2; i < $3; i += 2)); do
                  cd "$1/$i"
                  if timeout 5 openvpn --config f.conf --show-ciphers > said 2>&1 < /dev/null; then echo "$i taken"
                  elif grep -aqE 'Options error: (Unrecognized option or missing|option .*(not expected to be inline|cannot be used in this context))' said; then echo "$i refused"
                  elif grep -aqE 'Bad backslash|Residual parse state|is too long|Maximum option line|Endtag|must contain exactly one' said; then echo "$i refused"
                  else echo "$i values"; fi
                done
                """);
        Shell.need(
                "bash",
                "-c",
                "cd '" + folder + "'; for p in 0 1; do unshare -n bash '" + script + "' '" + folder + "' $p "
                        + texts.size() + " > verdicts.$p & done; wait");
        String[] out = new String[texts.size()];
        for (int p = 0; p < 2; p++) {
            for (String line : Files.readAllLines(folder.resolve("verdicts." + p))) {
                out[Integer.parseInt(line.split(" ")[0])] = line.split(" ")[1];
            }
        }
        return Arrays.asList(out);
    }
}
