package tender.core.sheet;

import static tender.core.sheet.Prompt.Kind.CHOOSE;
import static tender.core.sheet.Prompt.Kind.FILE;
import static tender.core.sheet.Prompt.Kind.SECRET;
import static tender.core.sheet.Prompt.Kind.TYPE;

import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import tender.core.language.StaffTexts;
import tender.core.office.Protocol;
import tender.core.profile.ClientProfile;
import tender.core.wire.MalformedException;

/**
 * One page for one device: prompts in the order in which a device of that kind shows them. Secrets are named, never told.
 *
 * @param texts in the language of whoever reads it
 * @param warnings what is weak about this kind of connection
 * @param facts what is good to know afterwards
 */
public record SettingsSheet(
        String title,
        Platform platform,
        StaffTexts texts,
        List<Prompt> prompts,
        List<String> warnings,
        List<String> facts) {
    public SettingsSheet {
        title = ClientProfile.printable(title);
        prompts = List.copyOf(prompts);
        warnings = List.copyOf(warnings);
        facts = List.copyOf(facts);
    }

    /** @throws MalformedException where a connection of that kind has no prompts of its own, or leads nowhere */
    public static SettingsSheet of(Connection c, Platform platform, StaffTexts texts) {
        return new Writing(c, platform, texts).sheet();
    }

    /** "For Windows", in the reader's language. */
    String intro() {
        return texts.get("sheet.for", "platform", texts.get("platform." + platform.word()));
    }

    private record Writing(Connection c, Platform platform, StaffTexts texts) {
        SettingsSheet sheet() {
            List<Prompt> prompts = switch (c.protocol()) {
                case IKEV2 -> platform == Platform.LINUX ? folders() : ike();
                case L2TP_IPSEC -> l2tp();
                case PPTP -> pptp();
                case OPENVPN, WIREGUARD -> imported();
                case TLS ->
                    throw new MalformedException(
                            "protocol", "", "what a device asks for a TLS-based VPN depends on its maker's client");
            };
            return new SettingsSheet(c.title(), platform, texts, prompts, warnings(), facts());
        }

        /** A prompt whose label and meaning are the catalogue's. */
        private Prompt prompt(Prompt.Kind kind, String key, String value) {
            return new Prompt(kind, texts.get("prompt." + key), value, texts.get("prompt." + key + ".meaning"));
        }

        private Prompt server() {
            return prompt(
                    TYPE,
                    "server",
                    c.server()
                            .map(e -> e.host().toString())
                            .orElseThrow(() -> new MalformedException("endpoint", "", "no address to call is known")));
        }

        private List<Prompt> ike() {
            List<Prompt> out = new ArrayList<>();
            if (c.byCertificate()) {
                out.add(new Prompt(
                        FILE,
                        texts.get("prompt.certificate"),
                        c.file(),
                        texts.get(
                                platform == Platform.WINDOWS
                                        ? "prompt.certificate.windows"
                                        : "prompt.certificate.meaning")));
                out.add(prompt(SECRET, "certificate-password", texts.get("prompt.certificate-password.value")));
            }
            out.add(prompt(CHOOSE, "kind", "IKEv2"));
            out.add(prompt(TYPE, "description", c.title()));
            out.add(server());
            c.serverId().ifPresent(id -> out.add(prompt(TYPE, "remote-id", id)));
            out.add(prompt(TYPE, "local-id", c.identity()));
            if (c.byCertificate()) {
                out.add(authentication(
                        "certificate", texts.get("prompt.authentication.certificate", "name", c.identity())));
            } else {
                out.add(authentication("account", texts.get("prompt.authentication.account")));
                out.addAll(account());
                shared(out);
            }
            return out;
        }

        private Prompt authentication(String how, String value) {
            return new Prompt(
                    CHOOSE,
                    texts.get("prompt.authentication"),
                    value,
                    texts.get("prompt.authentication." + how + ".meaning"));
        }

        private void shared(List<Prompt> out) {
            if (c.sharedSecret()) {
                out.add(prompt(SECRET, "shared-secret", texts.get("prompt.shared-secret.value")));
            }
        }

        private List<Prompt> account() {
            return List.of(
                    prompt(TYPE, "user", c.identity()),
                    prompt(SECRET, "password", texts.get("prompt.password.value", "account", c.identity())));
        }

        /** A Linux machine takes files, not prompts. */
        private List<Prompt> folders() {
            List<Prompt> out = new ArrayList<>();
            out.add(file("conf.d", "connection"));
            if (c.byCertificate()) {
                out.add(file("x509", "certificate"));
                out.add(file("private", "key"));
            } else {
                out.addAll(account());
            }
            out.add(file("x509ca", "authority"));
            out.add(prompt(TYPE, "load", "swanctl --load-all"));
            return out;
        }

        private Prompt file(String folder, String key) {
            return new Prompt(
                    FILE,
                    "/etc/swanctl/" + folder,
                    texts.get("prompt.file." + key),
                    texts.get("prompt.file." + key + ".meaning"));
        }

        private List<Prompt> l2tp() {
            List<Prompt> out = new ArrayList<>();
            out.add(prompt(CHOOSE, "kind", texts.get("prompt.kind.l2tp")));
            out.add(prompt(TYPE, "description", c.title()));
            out.add(server());
            out.addAll(account());
            shared(out);
            out.add(prompt(
                    CHOOSE,
                    "everything",
                    texts.get(c.everything() ? "prompt.everything.yes" : "prompt.everything.no")));
            return out;
        }

        private List<Prompt> pptp() {
            List<Prompt> out = new ArrayList<>(List.of(prompt(CHOOSE, "kind", "PPTP"), server()));
            out.addAll(account());
            out.add(prompt(CHOOSE, "encryption", texts.get("prompt.encryption.value")));
            return out;
        }

        private List<Prompt> imported() {
            boolean wireGuard = c.protocol() == Protocol.WIREGUARD;
            List<Prompt> out = new ArrayList<>();
            out.add(prompt(
                    CHOOSE,
                    "client",
                    texts.get(
                            "prompt.client.value." + platform.clientFrom(),
                            "protocol",
                            c.protocol().title())));
            out.add(new Prompt(
                    FILE,
                    texts.get("prompt.import"),
                    c.file(),
                    texts.get(wireGuard ? "prompt.import.qr" : "prompt.import.meaning")));
            if (!c.byCertificate() && !wireGuard) {
                out.addAll(account());
            }
            return out;
        }

        private List<String> warnings() {
            return switch (c.protocol()) {
                case L2TP_IPSEC -> List.of(texts.get("warning.l2tp"));
                case PPTP -> List.of(texts.get("warning.pptp"));
                default -> List.of();
            };
        }

        private List<String> facts() {
            List<String> out = new ArrayList<>();
            out.add(
                    c.everything()
                            ? texts.get("fact.everything")
                            : texts.get("fact.reach", "networks", joined(c.reach())));
            if (!c.dns().isEmpty()) {
                out.add(texts.get("fact.dns", "servers", joined(c.dns())));
            }
            c.authority()
                    .ifPresent(a ->
                            out.add(texts.get("fact.authority", "name", a.name(), "fingerprint", a.fingerprint())));
            c.ends().ifPresent(end -> out.add(texts.get("fact.until", "day", day(end))));
            out.add(texts.get("fact.this-device"));
            return out;
        }

        private String day(Instant at) {
            return DateTimeFormatter.ofPattern(texts.get("day-pattern"), texts.locale())
                    .withZone(ZoneOffset.UTC)
                    .format(at);
        }

        private static String joined(List<?> all) {
            return all.stream().map(Object::toString).collect(Collectors.joining(", "));
        }
    }
}
