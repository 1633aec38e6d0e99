package tender.core.profile;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import tender.core.profile.SectionFile.Setting;
import tender.core.wire.ParseProblem;

/**
 * Whether strongSwan 5.9 takes the connections, pools and authorities of a swanctl file: which settings there are, where they may stand and what they
 * may say ({@code swanctl-5.9.txt} beside this class). Whether the parts that a file names are there is not judged here.
 */
public final class SwanctlRules {
    private static final Map<String, String> KINDS = read();
    /** What swanctl sends as a list, wherever it stands. */
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
            "cert_policy",
            "crl_uris",
            "ocsp_uris");
    /** What of a section is sent as it stands; all else that a pool says is a list. */
    private static final String ADDRESSES = "addrs";

    private static final List<String> OF_AUTHORITIES = List.of("cacert", "file", "handle");
    private static final Pattern NUMBERED = Pattern.compile("[1-9]\\d{0,4}");

    private static final Set<String> LOADED = Set.of("connections", "pools", "authorities");

    private SwanctlRules() {}

    /** The first line for which strongSwan discards a connection, or reads nothing of the file; empty where it takes all. */
    public static Optional<ParseProblem> refusal(String text) {
        return refusal(SectionFile.read(text));
    }

    public static Optional<ParseProblem> refusal(SectionFile file) {
        Optional<ParseProblem> syntax = file.problems().stream()
                .findFirst()
                .map(p -> new ParseProblem(p.line(), "refused", p.what() + "; nothing of the file is read"));
        return syntax.or(() -> file.settings().stream()
                        .flatMap(s -> setting(s).stream())
                        .min(Comparator.comparing(ParseProblem::line)))
                .or(() -> file.sections().stream()
                        .flatMap(path -> section(path).or(() -> slot(path, file)).or(() -> whole(path, file)).stream())
                        .findFirst());
    }

    private static Optional<ParseProblem> setting(Setting s) {
        if (s.path().size() > 1 && LOADED.contains(s.path().get(0)) && !isPrintable(s.key())) {
            return Optional.of(new ParseProblem(s.line(), "refused", "a name of a setting that is not plain ASCII"));
        }
        Optional<String> place = place(s.path());
        if (place.isEmpty() || isList(place.get(), s.key()) && s.items().isEmpty()) {
            return Optional.empty(); // of an empty list nobody is told
        }
        boolean numbered =
                place.get().equals("pool") && NUMBERED.matcher(s.key()).matches();
        String kind = numbered ? "any" : KINDS.get(place.get() + " " + s.key());
        String wrong = kind == null
                ? "a setting that strongSwan 5.9 does not know here"
                : SwanctlValues.takes(kind, s.value()) ? "" : "a value that strongSwan 5.9 does not take";
        return wrong.isEmpty()
                ? Optional.empty()
                : Optional.of(new ParseProblem(s.line(), "refused", shown(s.key()) + ": " + wrong));
    }

    private static boolean isList(String place, String key) {
        return place.equals("pool") ? !key.equals(ADDRESSES) : LISTS.contains(key);
    }

    private static String shown(String key) {
        return key.length() > 40 ? key.substring(0, 40) + "…" : key;
    }

    /** Which settings may stand in a section; empty where none of a connection are looked for. */
    private static Optional<String> place(List<String> path) {
        if (path.size() == 2 && !path.get(0).equals("connections")) {
            return Optional.ofNullable(
                    Map.of("pools", "pool", "authorities", "authority").get(path.get(0)));
        }
        if (path.size() < 2 || !path.get(0).equals("connections")) {
            return Optional.empty();
        }
        return switch (path.size()) {
            case 2 -> Optional.of("connection");
            case 3 -> isSide(path.get(2)) ? Optional.of("auth") : Optional.empty();
            case 4 ->
                path.get(2).equals("children")
                        ? Optional.of("child")
                        : isSide(path.get(2)) ? Optional.of("slot") : Optional.empty();
            default -> Optional.empty();
        };
    }

    private static boolean isSide(String section) {
        return section.startsWith("local") || section.startsWith("remote");
    }

    private static Optional<ParseProblem> section(List<String> path) {
        if (path.size() < 2 || !LOADED.contains(path.get(0))) {
            return Optional.empty();
        }
        String last = path.get(path.size() - 1);
        if (!isPrintable(last)) {
            return Optional.of(new ParseProblem(0, "refused", "a name of a section that is not plain ASCII"));
        }
        if (!path.get(0).equals("connections")) {
            return Optional.empty();
        }
        boolean known = switch (path.size()) {
            case 2 -> true;
            case 3 -> path.get(2).equals("children") || isSide(path.get(2));
            case 4 ->
                path.get(2).equals("children")
                        || isSide(path.get(2))
                                && (path.get(3).startsWith("cert")
                                        || path.get(3).startsWith("cacert"));
            default -> path.get(2).equals("children"); // what stands in a child is passed over
        };
        return known
                ? Optional.empty()
                : Optional.of(new ParseProblem(
                        0,
                        "refused",
                        "the section " + shown(path.get(path.size() - 1))
                                + " is none that strongSwan 5.9 knows there"));
    }

    /** A certificate of its own section is taken from a file or a token. */
    private static Optional<ParseProblem> slot(List<String> path, SectionFile file) {
        boolean slot = path.size() == 4 && path.get(0).equals("connections") && isSide(path.get(2));
        boolean named = file.settings().stream()
                .anyMatch(s -> s.path().equals(path)
                        && (s.key().equals("handle") || s.key().equals("file")));
        return !slot || named
                ? Optional.empty()
                : Optional.of(new ParseProblem(
                        0, "refused", "the section " + shown(path.get(3)) + " says neither file nor handle"));
    }

    /** A pool says which addresses, and an authority which certificate. */
    private static Optional<ParseProblem> whole(List<String> path, SectionFile file) {
        if (path.size() != 2) {
            return Optional.empty();
        }
        return switch (path.get(0)) {
            case "pools" -> lacking(path, file, List.of(ADDRESSES), "no addrs");
            case "authorities" -> lacking(path, file, OF_AUTHORITIES, "no cacert, file or handle");
            default -> Optional.empty();
        };
    }

    private static Optional<ParseProblem> lacking(List<String> path, SectionFile file, List<String> any, String what) {
        boolean there = file.settings().stream().anyMatch(s -> s.path().equals(path) && any.contains(s.key()));
        return there
                ? Optional.empty()
                : Optional.of(new ParseProblem(0, "refused", "the section " + shown(path.get(1)) + " says " + what));
    }

    private static boolean isPrintable(String name) {
        return name.chars().allMatch(c -> c > ' ' && c < 0x7f);
    }

    private static Map<String, String> read() {
        Map<String, String> out = new HashMap<>();
        try (BufferedReader in = new BufferedReader(new InputStreamReader(
                Objects.requireNonNull(SwanctlRules.class.getResourceAsStream("swanctl-5.9.txt")),
                StandardCharsets.US_ASCII))) {
            for (String line = in.readLine(); line != null; line = in.readLine()) {
                if (!line.startsWith("#")) {
                    String[] words = line.split(" ");
                    out.put(words[0] + " " + words[1], words[2]);
                }
            }
        } catch (IOException e) {
            throw new IllegalStateException("the table of settings cannot be read", e);
        }
        return Map.copyOf(out);
    }
}
