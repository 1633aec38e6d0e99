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
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.CompletableFuture;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.profile.SectionFile;
import tender.core.profile.SwanctlRules;

/** What strongSwan takes, and what it reads, asked of the real swanctl and charon over many changed files. */
class RealSwanctlRulesTest {
    private static final int INPUTS = Integer.getInteger("tender.inputs", 250);
    private static final long SEED = Long.getLong("tender.seed", 20_261_130L);
    private static final Set<String> LISTS = Set.of(
            "local_addrs",
            "remote_addrs",
            "proposals",
            "esp_proposals",
            "ah_proposals",
            "local_ts",
            "remote_ts",
            "vips",
            "pools",
            "groups",
            "cert_policy");
    private static final Set<String> FILES = Set.of("certs", "cacerts", "pubkeys");

    private static final Pattern DISCARDED =
            Pattern.compile("(?m)^loading (?:connection|pool|authority) '.*' failed: ");

    @TempDir
    Path folder;

    /** @param refused what swanctl and charon said, where the file or a connection was not taken */
    private record Asked(String said, boolean refused, boolean missing, Map<String, Object> read) {}

    @Test
    void aFileIsTakenAndReadExactlyAsTheRealProgramsDo() throws IOException {
        compare(SwanctlSeeds.all(), INPUTS, "--load-conns", "swanctl files");
    }

    @Test
    void aFileWithAllItsSectionsIsTakenExactlyAsTheRealProgramsDo() throws IOException {
        compare(SwanctlSeeds.whole(), INPUTS / 2, "--load-all", "whole swanctl files");
    }

    private void compare(List<String> seeds, int inputs, String command, String what) throws IOException {
        if (!IkeLab.able()) {
            System.out.println("SKIPPED: no strongSwan here that runs in a network namespace");
        }
        assumeTrue(IkeLab.able());
        Random random = new Random(SEED);
        List<String> texts = new ArrayList<>(seeds);
        while (texts.size() < inputs) {
            String text = seeds.get(random.nextInt(seeds.size()));
            for (int n = 1 + random.nextInt(2); n > 0; n--) {
                text = SwanctlSeeds.changed(text, random);
            }
            texts.add(text);
        }
        List<Asked> asked;
        try (IkeLab lab = new IkeLab(folder.resolve("lab"))) {
            asked = asked(texts, lab, command);
        }

        int judged = 0;
        int taken = 0;
        List<String> disagreements = new ArrayList<>();
        for (int i = 0; i < texts.size(); i++) {
            Asked real = asked.get(i);
            if (real.missing()) {
                continue; // a part that it names is not there
            }
            judged++;
            taken += real.refused() ? 0 : 1;
            boolean refusal = SwanctlRules.refusal(texts.get(i)).isPresent();
            if (refusal != real.refused()) {
                disagreements.add("it says " + real.said().replaceAll("opening directory .*\n", "") + ", and we say "
                        + SwanctlRules.refusal(texts.get(i)) + ":\n" + texts.get(i));
            } else if (!real.said().contains("invalid config file")
                    && !(real.refused()
                            && command.equals("--load-all")) // what follows a pool that is refused is not read
                    && !read(texts.get(i)).equals(real.read())) {
                disagreements.add(
                        "it reads " + real.read() + ", and we read " + read(texts.get(i)) + ":\n" + texts.get(i));
            }
        }
        System.out.println("measured: " + judged + " " + what + " asked of strongSwan, " + taken + " taken, "
                + disagreements.size() + " disagreements");
        assertThat(taken).as("both kinds occur").isBetween(judged / 20, judged * 19 / 20);
        assertThat(disagreements).as("of " + judged).isEmpty();
    }

    private static Map<String, Object> read(String text) {
        Map<String, Object> out = new TreeMap<>();
        for (SectionFile.Setting s : SectionFile.read(text).settings()) {
            if (s.path().size() > 1 && s.path().get(0).equals("connections") && !FILES.contains(s.key())) {
                out.put(
                        String.join("/", s.path().subList(1, s.path().size())) + "/" + s.key(),
                        LISTS.contains(s.key()) ? s.items() : s.value());
            }
        }
        return out;
    }

    private List<Asked> asked(List<String> texts, IkeLab lab, String command) throws IOException {
        Path charon = Path.of(lab.socket().substring("unix://".length()));
        Asked[] out = new Asked[texts.size()];
        List<CompletableFuture<Void>> both = IntStream.range(0, 2)
                .mapToObj(half -> CompletableFuture.runAsync(() -> {
                    try (ViciEar ear = new ViciEar(folder.resolve("ear" + half), charon)) {
                        for (int i = half; i < out.length; i += 2) {
                            out[i] = ask(texts.get(i), half, ear, command);
                        }
                    } catch (IOException e) {
                        throw new java.io.UncheckedIOException(e);
                    }
                }))
                .toList();
        both.forEach(CompletableFuture::join);
        return Arrays.asList(out);
    }

    private Asked ask(String text, int half, ViciEar ear, String command) throws IOException {
        Path file = Files.writeString(folder.resolve("f" + half + ".conf"), text, StandardCharsets.UTF_8);
        Shell.Result result = Shell.run("swanctl", command, "--file", file.toString(), "--uri", ear.socket());
        String said = result.out();
        boolean crashed = result.code() > 128;
        Map<String, Object> read = ear.heard();
        read.keySet().removeIf(k -> FILES.contains(k.substring(k.lastIndexOf('/') + 1)));
        boolean refused = crashed
                || said.contains("invalid config file")
                || DISCARDED.matcher(said).find();
        boolean missing = Stream.of("certs", "cacerts", "pubkeys")
                        .anyMatch(kind -> said.contains("loading " + kind + " certificate"))
                || said.contains("unable to load certificate")
                || said.contains("loading ca certificate");
        assertThat(crashed || said.contains("unloaded")).as(said + text).isTrue();
        return new Asked(said, refused, missing, read);
    }
}
