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
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.profile.WireGuardRules;

/** Whether a file is taken, asked of the real wg-quick and wg over thousands of changed files. */
class RealWireGuardRulesTest {
    private static final int INPUTS = Integer.getInteger("tender.inputs", 500);
    private static final long SEED = Long.getLong("tender.seed", 20_261_128L);
    private static final String KEY = "xTIBA5rboUvnH4htodjb6e697QjLERt1NAB4mZqp8Dg=";
    private static final List<String> VALUES = List.of(
            "",
            " ",
            "off",
            "OFF",
            "0",
            "1",
            "25",
            "65535",
            "65536",
            "70000",
            "-1",
            "0x10",
            "0X10",
            "0xfffffffff",
            "1e3",
            "true",
            "False",
            "yes",
            KEY,
            KEY.substring(1),
            KEY + "=",
            "xTIBA5rboUvnH4htodjb6e697QjLERt1NAB4mZqp8Dh=",
            "10.0.0.0/8",
            "10.0.0.1",
            "10.0.0.0/33",
            "10.0.0.0/",
            "10.0.0.0/08",
            "010.0.0.0/8",
            "10.0.0/8",
            "::/0",
            "0.0.0.0/0, ::/0",
            "10.0.0.0/8,",
            ",",
            "10.0.0.0/8 10.1.0.0/16",
            "fd00::/64",
            "fd00::1%lo/64",
            "::ffff:10.0.0.1/128",
            "fd00::/129",
            "10.0.0.0/8/8",
            "192.0.2.7:51820",
            "192.0.2.7",
            "192.0.2.7:",
            ":51820",
            "[fd00::1]:51820",
            "fd00::1:51820",
            "[fd00::1]",
            "[fd00::1]51820",
            "[192.0.2.7]:5",
            "192.0.2.7:openvpn",
            "192.0.2.7:+5",
            "192.0.2.7:2147483648",
            "192.0.2.7:4294967296",
            "192.0.2.7 : 51820",
            "127.1:51820",
            "0x7f.1:5",
            "192.0.2.256:5",
            "1.2.3.4.5:5",
            "a # b",
            "#");
    private static final List<String> KEYS = List.of(
            "PrivateKey",
            "ListenPort",
            "FwMark",
            "Address",
            "DNS",
            "MTU",
            "Table",
            "PostUp",
            "SaveConfig",
            "PublicKey",
            "PresharedKey",
            "AllowedIPs",
            "Endpoint",
            "PersistentKeepalive",
            "Private Key",
            "privatekey",
            "Allowed IPs",
            "Jc",
            "AdvancedSecurity",
            "Name",
            "ReplacePeers",
            "remove",
            "[Peer]",
            "[interface]",
            "[ Peer ]",
            "[Peers]",
            "# Name");
    private static final List<String> ODDITIES = List.of(
            "\0", "\r", "\t", " ", "\ufeff", "#", "=", "[", "]", ";", "\\", "\"", "\u00a0", "\n", "\u000b", "é", ",");

    @TempDir
    Path folder;

    @Test
    void aFileIsTakenExactlyWhereTheRealProgramsTakeIt() throws IOException {
        boolean able = Shell.has("wg") && Shell.has("wg-quick");
        if (!able) {
            System.out.println("SKIPPED: no wg and wg-quick here");
        }
        assumeTrue(able);
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

        List<String> verdicts = asked(texts);

        int taken = 0;
        int judged = 0;
        List<String> disagreements = new ArrayList<>();
        for (int i = 0; i < texts.size(); i++) {
            if (verdicts.get(i).equals("names")) {
                continue; // it hangs on a name that would have to be looked up
            }
            judged++;
            boolean really = verdicts.get(i).equals("taken");
            taken += really ? 1 : 0;
            if (WireGuardRules.refusal(texts.get(i)).isEmpty() != really) {
                disagreements.add(verdicts.get(i) + ", and we say " + WireGuardRules.refusal(texts.get(i)) + ":\n"
                        + texts.get(i));
            }
        }
        System.out.println("measured: " + judged + " WireGuard files asked of wg-quick and wg, " + taken + " taken, "
                + disagreements.size() + " disagreements");
        assertThat(taken).as("both kinds occur").isBetween(judged / 20, judged * 19 / 20);
        assertThat(disagreements).as("of " + judged).isEmpty();
    }

    /** Those of the corpus, calling an address, and one with all that may stand in one. */
    private static List<String> seeds() throws IOException {
        List<String> out = new ArrayList<>();
        try (Stream<Path> all = Files.walk(Path.of("../core/src/test/resources/corpus/wireguard"))) {
            for (Path file : all.filter(Files::isRegularFile).sorted().toList()) {
                out.add(new String(Files.readAllBytes(file), StandardCharsets.UTF_8)
                        .replaceAll("(?im)^(\\s*endpoint\\s*=\\s*)[^\\s\\[:]+", "$1192.0.2.7"));
            }
        }
        out.add("[Interface]\nPrivateKey = " + KEY
                + "\nAddress = 10.9.0.2/32, fd00::2/128\nDNS = 10.0.0.53, inside\nMTU = 1380\n"
                + "ListenPort = 51820\nFwMark = 0x10\nTable = off\nPostUp = echo up\nSaveConfig = false\n\n[Peer]\nPublicKey = "
                + KEY + "\nPresharedKey = " + KEY + "\nAllowedIPs = 10.0.0.0/8, fd00::/64\nEndpoint = 192.0.2.7:51820\n"
                + "PersistentKeepalive = 25\n\n[Peer]\nPublicKey=" + KEY + "\nAllowedIPs=10.1.0.0/16\n");
        return out;
    }

    private static String changed(String text, Random random) {
        List<String> lines = new ArrayList<>(Arrays.asList(text.split("\n", -1)));
        int at = random.nextInt(lines.size());
        String line = lines.get(at);
        switch (random.nextInt(9)) {
            case 0 -> lines.remove(at);
            case 1 -> lines.add(random.nextInt(lines.size()), line);
            case 2 -> lines.add(at, pick(KEYS, random) + " = " + pick(VALUES, random));
            case 3 -> lines.set(at, line.replaceFirst("=.*", "= ") + pick(VALUES, random));
            case 4 -> lines.set(at, line.replaceFirst("^[^=]*", pick(KEYS, random) + " "));
            case 5 -> lines.set(at, line.isEmpty() ? pick(ODDITIES, random) : cut(line, random));
            case 6 -> {
                int c = random.nextInt(line.length() + 1);
                lines.set(at, line.substring(0, c) + pick(ODDITIES, random) + line.substring(c));
            }
            case 7 -> lines.add(0, pick(ODDITIES, random) + lines.remove(0));
            default -> lines.replaceAll(l -> l + "\r");
        }
        return String.join("\n", lines.isEmpty() ? List.of("") : lines);
    }

    private static String cut(String line, Random random) {
        int from = random.nextInt(line.length());
        return line.substring(0, from) + line.substring(Math.min(line.length(), from + 1 + random.nextInt(3)));
    }

    private static String pick(List<String> from, Random random) {
        return from.get(random.nextInt(from.size()));
    }

    /** For each: taken, refused, or names where it hangs on a name. */
    private List<String> asked(List<String> texts) throws IOException {
        for (int i = 0; i < texts.size(); i++) {
            Files.createDirectories(folder.resolve(Integer.toString(i)));
            Files.writeString(folder.resolve(i + "/f.conf"), texts.get(i), StandardCharsets.UTF_8);
        }
        Path script = Files.writeString(folder.resolve("ask.sh"), """
                cd "$1"; export WG_ENDPOINT_RESOLUTION_RETRIES=0
                for ((i = $2; i < $3; i += 2)); do
                  if ! wg-quick strip "$PWD/$i/f.conf" > $i/stripped 2> $i/said; then echo "$i refused"; continue; fi
                  wg setconf nosuch0 $i/stripped 2> $i/said
                  if grep -q 'Unable to modify interface' $i/said; then echo "$i taken"
                  elif grep -qE 'Name or service not known|Temporary failure|No address associated' $i/said; then echo "$i names"
                  else echo "$i refused"; fi
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
