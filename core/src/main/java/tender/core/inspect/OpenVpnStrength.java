package tender.core.inspect;

import java.util.Locale;
import java.util.Set;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.OpenVpnFile.Directive;

/** How well a file protects what it carries, by its words alone. */
record OpenVpnStrength(OpenVpnClient file, Inspection.Draft draft) {
    private static final Set<String> WEAK_DIGESTS = Set.of("MD5", "MD4", "SHA1", "RIPEMD160");

    void note() {
        algorithms();
        compression();
        checks();
    }

    private void algorithms() {
        if (file.controlChannelKey().isEmpty() && !file.file().has("secret")) {
            draft.note(Hint.CONTROL_CHANNEL_KEY_MISSING, 0, "");
        }
        int line = file.file()
                .last("data-ciphers")
                .or(() -> file.file().last("ncp-ciphers"))
                .or(() -> file.file().last("cipher"))
                .map(Directive::line)
                .orElse(0);
        for (String cipher : file.ciphers()) {
            if (cipher.equalsIgnoreCase("none")) {
                draft.note(Hint.CIPHER_NONE, line, cipher);
            } else if (OpenVpnClient.isWeakCipher(cipher)) {
                draft.note(Hint.CIPHER_WEAK, line, cipher);
            }
        }
        if (file.digest().equalsIgnoreCase("none")) {
            draft.note(Hint.CHECK_OFF, line("auth"), "auth none");
        } else if (WEAK_DIGESTS.contains(file.digest().toUpperCase(Locale.ROOT))
                && file.file().has("auth")) {
            draft.note(Hint.DIGEST_WEAK, line("auth"), file.digest());
        }
        file.tlsMinimum()
                .filter(v -> v.equals("1.0") || v.equals("1.1"))
                .ifPresent(v -> draft.note(Hint.TLS_OLD, line("tls-version-min"), v));
    }

    private void compression() {
        boolean compresses = file.file().directives().stream()
                .anyMatch(d -> d.name().equals("comp-lzo")
                                && d.word(0).filter("no"::equals).isEmpty()
                        || d.name().equals("compress")
                                && d.word(0)
                                        .filter(w -> !w.startsWith("stub") && !w.equals("migrate"))
                                        .isPresent());
        if (compresses) {
            draft.note(
                    Hint.COMPRESSION_ON,
                    file.file()
                            .last("comp-lzo")
                            .or(() -> file.file().last("compress"))
                            .map(Directive::line)
                            .orElse(0),
                    "");
        }
    }

    /** Whether both sides are asked who they are. */
    private void checks() {
        boolean checked = file.checksName().isPresent()
                || file.checksRole()
                || file.file().has("peer-fingerprint")
                || file.file().has("secret");
        if (!checked && !file.server()) {
            draft.note(Hint.SERVER_UNCHECKED, 0, "");
        }
        boolean anyone = file.file().has("client-cert-not-required")
                || file.file()
                        .last("verify-client-cert")
                        .flatMap(d -> d.word(0))
                        .filter(w -> !w.equals("require"))
                        .isPresent();
        if (anyone) {
            draft.note(
                    Hint.CERTIFICATE_NOT_ASKED,
                    file.file()
                            .last("verify-client-cert")
                            .or(() -> file.file().last("client-cert-not-required"))
                            .get()
                            .line(),
                    "");
        }
        file.checksName().ifPresent(d -> draft.fact("server must be", String.join(" ", d.words())));
    }

    private int line(String name) {
        return file.file().last(name).map(Directive::line).orElse(0);
    }
}
