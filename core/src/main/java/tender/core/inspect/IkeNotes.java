package tender.core.inspect;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.profile.SectionFile;
import tender.core.profile.SectionFile.Setting;
import tender.core.profile.SwanctlRules;
import tender.core.wire.MalformedException;

/** What is said of an IKEv2 connection in a swanctl file. */
final class IkeNotes {
    private static final Port IKE = new Port(500);

    private final SectionFile file;
    private final Inspection.Draft draft = new Inspection.Draft();

    private IkeNotes(SectionFile file) {
        this.file = file;
    }

    static boolean looksLike(SectionFile file) {
        return file.settings().stream()
                .anyMatch(s -> !s.path().isEmpty()
                        && (s.path().get(0).equals("connections")
                                || s.path().get(0).equals("secrets") && s.path().size() == 2));
    }

    static Inspection of(String name, SectionFile file, Beside beside) {
        IkeNotes notes = new IkeNotes(file);
        notes.calls();
        notes.proof(beside);
        notes.reach();
        notes.strength();
        notes.dangerous();
        return notes.draft.refused(SwanctlRules.refusal(file)).done(name, Inspection.Kind.IKEV2);
    }

    private List<Setting> all(String key, String... path) {
        return file.settings().stream()
                .filter(s -> s.key().equals(key) && s.isIn(path))
                .toList();
    }

    private List<Setting> all(String key) {
        return file.written().stream().filter(s -> s.key().equals(key)).toList();
    }

    private void calls() {
        List<Setting> remote = all("remote_addrs", "connections", "*");
        draft.fact("connects to", remote.stream().map(Setting::value).collect(Collectors.joining(", ")));
        boolean connects =
                file.sections().stream().anyMatch(p -> p.size() > 1 && p.get(0).equals("connections"));
        if (remote.isEmpty() && connects) {
            draft.note(Hint.ENDPOINT_MISSING, 0, "");
        }
        for (Setting s : remote) {
            for (String host : s.items()) {
                try {
                    Endpoint e = new Endpoint(Host.parse(host), IKE, Transport.UDP);
                    if (e.isPlaceholder()) {
                        draft.note(Hint.ENDPOINT_PLACEHOLDER, s.line(), host);
                    } else if (e.isPrivate()) {
                        draft.note(Hint.ENDPOINT_PRIVATE, s.line(), host);
                    } else if (e.host() instanceof Host.Literal) {
                        draft.note(Hint.ENDPOINT_LITERAL, s.line(), host);
                    }
                } catch (MalformedException e) {
                    Calls.unclear(host, s.line(), draft);
                }
            }
        }
    }

    private void proof(Beside beside) {
        List<Setting> own = file.settings().stream()
                .filter(s -> s.key().equals("auth")
                        && s.path().size() == 3
                        && s.path().get(2).startsWith("local"))
                .toList();
        draft.fact("authenticates with", own.stream().map(s -> words(s.value())).collect(Collectors.joining(" and ")));
        own.stream()
                .filter(s -> s.value().equals("psk"))
                .forEach(s -> draft.note(Hint.PROTOCOL_WEAK, s.line(), "one shared secret"));
        for (String key : List.of("certs", "cacerts", "pubkeys")) {
            for (Setting parts : all(key)) {
                parts.items().stream()
                        .filter(part -> beside.named(part).isEmpty())
                        .forEach(part -> draft.note(Hint.PART_ELSEWHERE, parts.line(), key + " " + part));
            }
        }
        Optional<Setting> id = file.settings().stream()
                .filter(s -> s.key().equals("id")
                        && s.path().size() == 3
                        && s.path().get(2).startsWith("remote"))
                .findFirst();
        id.ifPresent(s -> draft.fact("server must be", s.value()));
        boolean any = id.filter(s -> s.value().equals("%any")).isPresent();
        if (!own.isEmpty() && (id.isEmpty() && all("remote_addrs").isEmpty() || any)) {
            draft.note(Hint.SERVER_UNCHECKED, id.map(Setting::line).orElse(0), "");
        }
        file.settings().stream()
                .filter(s -> s.key().equals("secret")
                        && s.path().size() > 1
                        && s.path().get(0).equals("secrets"))
                .forEach(s -> draft.note(
                        Hint.PASSWORD_INSIDE,
                        s.line(),
                        "a secret of " + s.path().get(1)));
    }

    private static String words(String auth) {
        return auth.startsWith("eap") ? "name and password" : auth.equals("psk") ? "a shared secret" : "a certificate";
    }

    private void reach() {
        List<Setting> reach = all("remote_ts", "connections", "*", "children", "*");
        String networks = reach.stream().map(Setting::value).collect(Collectors.joining(", "));
        draft.fact(
                "through the tunnel",
                networks.isEmpty() ? "what the server pushes" : networks.replace("0.0.0.0/0", "all IPv4"));
        reach.stream()
                .filter(s -> s.value().contains("0.0.0.0/0") && !s.value().contains("::/0"))
                .forEach(s -> draft.note(Hint.REACH_LEAKS_V6, s.line(), ""));
    }

    private void strength() {
        for (String key : List.of("proposals", "esp_proposals", "ah_proposals")) {
            for (Setting s : all(key)) {
                String p = s.value().toLowerCase(Locale.ROOT);
                if (p.contains("3des")
                        || p.contains("-des")
                        || p.startsWith("des")
                        || p.contains("null")
                        || p.contains("blowfish")) {
                    draft.note(Hint.CIPHER_WEAK, s.line(), s.value());
                }
                if (p.contains("md5") || p.matches(".*\\bsha1?\\b(?!\\d).*")) {
                    draft.note(Hint.DIGEST_WEAK, s.line(), s.value());
                }
                if (p.contains("modp768") || p.contains("modp1024")) {
                    draft.note(Hint.KEY_SHORT, s.line(), s.value());
                }
            }
        }
        all("version").stream()
                .filter(s -> s.value().equals("1") || s.value().equals("0"))
                .forEach(s -> draft.note(Hint.PROTOCOL_WEAK, s.line(), "IKE version " + s.value()));
        draft.fact(
                "ciphers",
                all("proposals").stream().map(Setting::value).distinct().collect(Collectors.joining(", ")));
    }

    private void dangerous() {
        all("updown").forEach(s -> draft.note(Hint.RUNS_PROGRAM, s.line(), "updown " + s.value()));
        file.includes().forEach(i -> draft.note(Hint.READS_OTHER, i.line(), "include " + i.pattern()));
        all("revocation").stream()
                .filter(s -> s.value().equals("ifuri"))
                .forEach(s -> draft.note(Hint.CHECK_OFF, s.line(), "revocation " + s.value()));
    }
}
