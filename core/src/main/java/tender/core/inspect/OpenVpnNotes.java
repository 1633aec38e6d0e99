package tender.core.inspect;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateFacts.Role;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.KeyStoreFile;
import tender.core.certificate.PemText;
import tender.core.certificate.PrivateKeyFile;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.OpenVpnClient.Material;
import tender.core.profile.OpenVpnFile.Directive;
import tender.core.profile.OpenVpnRules;
import tender.core.wire.MalformedException;

/** What is said of an OpenVPN file. */
final class OpenVpnNotes {
    private static final Set<String> RUNS = Set.of(
            "up",
            "down",
            "route-up",
            "route-pre-down",
            "ipchange",
            "tls-verify",
            "auth-user-pass-verify",
            "client-connect",
            "client-disconnect",
            "learn-address",
            "client-crresponse",
            "tls-crypt-v2-verify",
            "iproute");
    private static final Set<String> LOADS = Set.of("plugin", "engine", "pkcs11-providers");
    private static final Set<String> WRITES = Set.of(
            "log",
            "log-append",
            "status",
            "writepid",
            "tls-export-cert",
            "replay-persist",
            "memstats",
            "dev-node",
            "ifconfig-pool-persist",
            "cd",
            "chroot",
            "genkey",
            "tmp-dir");
    private static final Set<String> WEAK_DIGESTS = Set.of("MD5", "MD4", "SHA1", "RIPEMD160");
    private static final Set<String> OWN_FILES = Set.of(
            "ca",
            "cert",
            "key",
            "pkcs12",
            "tls-auth",
            "tls-crypt",
            "tls-crypt-v2",
            "secret",
            "crl-verify",
            "extra-certs",
            "dh");

    private static final int MAX_PATH = 8;
    /** Variables by which the system, shells and interpreters find code. */
    private static final Pattern LOADER = Pattern.compile(
            "(?i)path|(ld|dyld)_.*|ifs|env|bash_env|shellopts|.*(path|preload|lib|home|modules|engines)|openssl_.*|perl5.*"
                    + "|python.*|ruby.*|node_.*|gconv_.*|nlspath|resolv_.*|tmpdir|pathext|comspec|systemroot|windir");

    private final OpenVpnClient file;
    private final Inspection.Draft draft = new Inspection.Draft();
    private final CertificateNotes certificates;
    private final Instant now;
    private final Beside beside;
    private final Unlocking unlocking;

    private OpenVpnNotes(OpenVpnClient file, Instant now, Beside beside, Unlocking unlocking) {
        this.file = file;
        this.now = now;
        this.certificates = new CertificateNotes(now, draft, beside);
        this.beside = beside;
        this.unlocking = new Unlocking(unlocking.passphrase(), unlocking.budget(), file.opensOldLocks());
    }

    /** @param beside files that came along, by name, for those that the file names */
    static Inspection of(String name, OpenVpnClient file, Instant now, Beside beside, Unlocking unlocking) {
        OpenVpnNotes notes = new OpenVpnNotes(file, now, beside, unlocking);
        if (!file.server()) {
            notes.calls();
            notes.reach();
        }
        notes.material();
        notes.strength();
        notes.dangerous();
        return notes.draft
                .problems(file.problems())
                .refused(OpenVpnRules.refusal(file.file().text()))
                .done(name, file.server() ? Inspection.Kind.OPENVPN_SERVER : Inspection.Kind.OPENVPN_CLIENT);
    }

    private void calls() {
        draft.fact("leads to", file.calls().stream().map(Object::toString).collect(Collectors.joining(", ")));
        if (file.calls().isEmpty()) {
            draft.note(Hint.ENDPOINT_MISSING, 0, "");
        }
        for (OpenVpnClient.Call call : file.calls()) {
            Optional<Endpoint> endpoint = call.endpoint();
            if (endpoint.isEmpty()) {
                Calls.unclear(call.host(), call.line(), draft);
            } else if (endpoint.get().isPlaceholder()) {
                draft.note(Hint.ENDPOINT_PLACEHOLDER, call.line(), call.host());
            } else if (endpoint.get().isPrivate()) {
                draft.note(Hint.ENDPOINT_PRIVATE, call.line(), call.host());
            } else if (endpoint.get().host() instanceof Host.Literal) {
                draft.note(Hint.ENDPOINT_LITERAL, call.line(), call.host());
            }
        }
    }

    private void reach() {
        String all = file.full4() && file.full6()
                ? "everything"
                : file.full4() ? "all IPv4" : file.full6() ? "all IPv6" : "";
        String networks = file.reach().stream().map(Object::toString).collect(Collectors.joining(", "));
        draft.fact(
                "through the tunnel",
                all.isEmpty() && networks.isEmpty()
                        ? "what the server says"
                        : all + (all.isEmpty() || networks.isEmpty() ? "" : ", ") + networks);
        draft.fact(
                "kept out of it", file.around().stream().map(Object::toString).collect(Collectors.joining(", ")));
        draft.fact("names asked at", file.dns().stream().map(Object::toString).collect(Collectors.joining(", ")));
        if (file.full4() && !file.full6()) {
            draft.note(Hint.REACH_LEAKS_V6, 0, "");
        }
        file.proxy().ifPresent(p -> draft.note(Hint.ALL_THROUGH_PROXY, p.line(), String.join(" ", p.words())));
    }

    private void material() {
        List<CertificateFacts> authorities = read(file.authority(), "ca");
        List<CertificateFacts> own = read(file.certificate(), "cert");
        Optional<CertificateKey> key = key();
        if (file.keyStore().isPresent()) {
            Optional<KeyStoreFile.Opened> opened = keyStore(file.keyStore().get());
            if (opened.isPresent()) {
                List<CertificateFacts> all = opened.get().certificates().stream()
                        .map(CertificateFacts::of)
                        .toList();
                all.forEach(
                        c -> certificates.certificate(c, file.keyStore().get().line()));
                own = all.stream().filter(c -> c.role() != Role.AUTHORITY).toList();
                authorities = authorities.isEmpty()
                        ? all.stream().filter(c -> c.role() == Role.AUTHORITY).toList()
                        : authorities;
            }
        }
        boolean byCertificate =
                file.certificate().isPresent() || file.keyStore().isPresent();
        draft.fact(
                "proves itself by",
                (byCertificate ? "a certificate" : "")
                        + (byCertificate && file.asksPassword() ? " and " : "")
                        + (file.asksPassword() ? "name and password" : ""));
        own.stream()
                .findFirst()
                .ifPresent(c -> draft.fact(
                        file.server() ? "server's certificate" : "person's certificate",
                        CertificateNotes.whose(c) + ", " + CertificateNotes.life(c, now)));
        authorities.stream()
                .findFirst()
                .ifPresent(c -> draft.fact(
                        "authority", c.anyName().orElse("(no name)") + ", " + CertificateNotes.life(c, now)));
        pairs(authorities, own, key, byCertificate);
    }

    private void pairs(
            List<CertificateFacts> authorities,
            List<CertificateFacts> own,
            Optional<CertificateKey> key,
            boolean byCertificate) {
        boolean secret = file.file().has("secret");
        boolean fingerprint = file.file().has("peer-fingerprint");
        if (file.authority().isEmpty()
                && authorities.isEmpty()
                && file.keyStore().isEmpty()
                && !secret
                && !fingerprint) {
            draft.note(Hint.AUTHORITY_MISSING, 0, "");
        }
        if (secret) {
            draft.note(Hint.STATIC_KEY_MODE, file.file().last("secret").get().line(), "");
        }
        if (!byCertificate && !file.asksPassword() && !secret && !file.server()) {
            draft.note(Hint.CERTIFICATE_MISSING, 0, "");
        }
        if (file.certificate().isPresent() && file.key().isEmpty()) {
            draft.note(Hint.KEY_MISSING, file.certificate().get().line(), "");
        }
        if (file.key().isPresent() && file.certificate().isEmpty()) {
            draft.note(Hint.CERTIFICATE_MISSING, file.key().get().line(), "");
        }
        int line = file.certificate().or(file::keyStore).map(Material::line).orElse(0);
        own.stream().findFirst().ifPresent(c -> {
            boolean wrong = file.server() ? c.role() == Role.CLIENT : c.role() == Role.SERVER;
            if (wrong || c.role() == Role.AUTHORITY) {
                draft.note(Hint.ROLE_WRONG, line, CertificateNotes.whose(c));
            }
            if (!authorities.isEmpty() && !leads(c, authorities, own)) {
                draft.note(Hint.AUTHORITY_OTHER, line, c.issuer());
            }
        });
        key.ifPresent(
                k -> certificates.pair(own, k, file.key().map(Material::line).orElse(0)));
    }

    /** Whether a certificate leads to one of these authorities, by those between that came along. */
    private boolean leads(CertificateFacts c, List<CertificateFacts> authorities, List<CertificateFacts> own) {
        List<CertificateFacts> between = new ArrayList<>(own);
        between.addAll(beside.authorities());
        file.file()
                .last("extra-certs")
                .map(OpenVpnClient.Material::of)
                .flatMap(m -> m.isInline() ? m.text() : beside.named(m.name()).map(OpenVpnNotes::latin))
                .ifPresent(text -> PemText.read(text).blocks().stream()
                        .filter(CertificateNotes::isCertificate)
                        .forEach(b -> between.add(CertificateFacts.of(b.der()))));
        CertificateFacts at = c;
        for (int step = 0; step < MAX_PATH; step++) {
            if (authorities.stream().anyMatch(at::isIssuedBy)) {
                return true;
            }
            CertificateFacts last = at;
            Optional<CertificateFacts> next = between.stream()
                    .filter(a -> !a.equals(last) && a.role() == Role.AUTHORITY && last.isIssuedBy(a))
                    .findFirst();
            if (next.isEmpty()) {
                return false;
            }
            at = next.get();
        }
        return false;
    }

    private static String latin(byte[] content) {
        return new String(content, java.nio.charset.StandardCharsets.ISO_8859_1);
    }

    private List<CertificateFacts> read(Optional<Material> material, String what) {
        Optional<String> text = material.flatMap(m -> text(m, what));
        return text.map(t -> certificates.certificates(
                        t, material.get().isInline() ? material.get().line() : 0))
                .orElse(List.of());
    }

    /** What the material says: inline, or the file of that name that came along. */
    private Optional<String> text(Material m, String what) {
        if (m.isInline()) {
            return m.text();
        }
        byte[] content = beside.named(m.name()).orElse(null);
        if (content == null) {
            if (!m.name().isEmpty() && !file.server()) {
                draft.note(Hint.PART_ELSEWHERE, m.line(), what + " " + m.name());
            }
            return Optional.empty();
        }
        return Optional.of(latin(content));
    }

    private Optional<CertificateKey> key() {
        Optional<String> text = file.key().flatMap(m -> text(m, "key"));
        if (text.isEmpty()) {
            return Optional.empty();
        }
        int line = file.key().get().line();
        for (PemText.Block block : PemText.read(text.get()).blocks()) {
            if (PrivateKeyFile.isKey(block.label())) {
                try {
                    return certificates.key(PrivateKeyFile.of(block), line, unlocking);
                } catch (MalformedException e) {
                    draft.unread(new tender.core.wire.Problem(line, e.code(), e.what()));
                }
            }
        }
        return Optional.empty();
    }

    private Optional<KeyStoreFile.Opened> keyStore(Material m) {
        byte[] content;
        try {
            content = m.isInline()
                    ? java.util.Base64.getMimeDecoder().decode(m.text().get())
                    : beside.named(m.name()).orElse(null);
        } catch (IllegalArgumentException e) {
            draft.unread(new tender.core.wire.Problem(m.line(), "pkcs12", "the key store is not whole base64"));
            return Optional.empty();
        }
        if (content == null) {
            draft.note(Hint.PART_ELSEWHERE, m.line(), "pkcs12 " + m.name());
            return Optional.empty();
        }
        try {
            return KeyStoreNotes.of(KeyStoreFile.of(content), m.line(), draft, unlocking);
        } catch (MalformedException e) {
            draft.unread(new tender.core.wire.Problem(m.line(), e.code(), e.what()));
            return Optional.empty();
        }
    }

    private void strength() {
        draft.fact("wrapping", file.wrapping().map(OpenVpnClient.Wrapping::kind).orElse("none"));
        draft.fact("ciphers", String.join(", ", file.ciphers()));
        file.wrapping().map(OpenVpnClient.Wrapping::key).ifPresent(m -> text(m, "wrapping key"));
        if (file.wrapping().isEmpty() && !file.file().has("secret")) {
            draft.note(Hint.WRAPPING_MISSING, 0, "");
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

    private void dangerous() {
        for (Directive d : file.file().directives()) {
            String words = d.name() + (d.block().isPresent() ? "" : " " + String.join(" ", d.words()));
            if (RUNS.contains(d.name())) {
                draft.note(Hint.RUNS_PROGRAM, d.line(), words);
            } else if (LOADS.contains(d.name())
                    || d.name().equals("providers")
                            && !Set.of("legacy", "default").containsAll(d.words())) {
                draft.note(Hint.LOADS_CODE, d.line(), words);
            } else if (WRITES.contains(d.name())) {
                draft.note(Hint.WRITES_FILE, d.line(), words);
            } else if (d.name().equals("setenv")
                    && d.word(0).filter(w -> LOADER.matcher(w).matches()).isPresent()) {
                draft.note(Hint.SETS_VARIABLE, d.line(), words);
            } else if (d.name().equals("script-security")
                    && d.word(0)
                            .filter(w -> w.matches("[1-9]\\d*") && !w.equals("1"))
                            .isPresent()) {
                draft.note(Hint.SCRIPTS_ALLOWED, d.line(), words);
            } else if (d.name().equals("management")) {
                draft.note(Hint.OPENS_CONTROL, d.line(), words);
            } else if (d.name().equals("config")) {
                draft.note(Hint.READS_OTHER, d.line(), words);
            } else if (isCheckOff(d)) {
                draft.note(Hint.CHECK_OFF, d.line(), words);
            } else if (d.name().equals("auth-user-pass") && d.block().isPresent()) {
                draft.note(Hint.PASSWORD_INSIDE, d.line(), "");
            } else if (d.name().equals("auth-user-pass") && d.word(0).isPresent()
                    || d.name().equals("askpass") && d.word(0).isPresent()) {
                draft.note(Hint.PASSWORD_INSIDE, d.line(), words);
            } else if (!OWN_FILES.contains(d.name())
                    && OpenVpnClient.successor(d).isPresent()) {
                draft.note(Hint.DEPRECATED, d.line(), words);
            }
        }
    }

    private static boolean isCheckOff(Directive d) {
        return switch (d.name()) {
            case "no-replay", "no-iv", "allow-deprecated-insecure-static-crypto" -> true;
            case "tls-cert-profile" ->
                d.word(0)
                        .filter(w -> w.equals("insecure") || w.equals("legacy"))
                        .isPresent();
            default -> false;
        };
    }
}
