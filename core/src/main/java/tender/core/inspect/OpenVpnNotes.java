package tender.core.inspect;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
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
import tender.core.profile.OpenVpnClient.Part;
import tender.core.profile.OpenVpnRules;
import tender.core.wire.MalformedException;

/** What is said of an OpenVPN file. */
final class OpenVpnNotes {

    private static final int MAX_PATH = 8;

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
        notes.parts();
        notes.strength();
        OpenVpnDangers.note(file, notes.draft);
        return notes.draft
                .problems(file.problems())
                .refused(OpenVpnRules.refusal(file.file().text()))
                .done(name, file.server() ? Inspection.Kind.OPENVPN_SERVER : Inspection.Kind.OPENVPN_CLIENT);
    }

    private void calls() {
        draft.fact("connects to", file.calls().stream().map(Object::toString).collect(Collectors.joining(", ")));
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
                        ? "what the server pushes"
                        : all + (all.isEmpty() || networks.isEmpty() ? "" : ", ") + networks);
        draft.fact("excluded", file.around().stream().map(Object::toString).collect(Collectors.joining(", ")));
        draft.fact("DNS servers", file.dns().stream().map(Object::toString).collect(Collectors.joining(", ")));
        if (file.full4() && !file.full6()) {
            draft.note(Hint.REACH_LEAKS_V6, 0, "");
        }
        file.proxy().ifPresent(p -> draft.note(Hint.ALL_THROUGH_PROXY, p.line(), String.join(" ", p.words())));
    }

    private void parts() {
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
                "authenticates with",
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
        int line = file.certificate().or(file::keyStore).map(Part::line).orElse(0);
        own.stream().findFirst().ifPresent(c -> {
            boolean wrong = file.server() ? c.role() == Role.CLIENT : c.role() == Role.SERVER;
            if (wrong || c.role() == Role.AUTHORITY) {
                draft.note(Hint.ROLE_WRONG, line, CertificateNotes.whose(c));
            }
            if (!authorities.isEmpty() && !leads(c, authorities, own)) {
                draft.note(Hint.AUTHORITY_OTHER, line, c.issuer());
            }
        });
        key.ifPresent(k -> certificates.pair(own, k, file.key().map(Part::line).orElse(0)));
    }

    /** Whether a certificate leads to one of these authorities, by those between that came along. */
    private boolean leads(CertificateFacts c, List<CertificateFacts> authorities, List<CertificateFacts> own) {
        List<CertificateFacts> between = new ArrayList<>(own);
        between.addAll(beside.authorities());
        file.file()
                .last("extra-certs")
                .map(OpenVpnClient.Part::of)
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

    private List<CertificateFacts> read(Optional<Part> part, String what) {
        Optional<String> text = part.flatMap(m -> text(m, what));
        return text.map(t -> certificates.certificates(
                        t, part.get().isInline() ? part.get().line() : 0))
                .orElse(List.of());
    }

    /** What the part holds: inline, or the file of that name that came along. */
    private Optional<String> text(Part m, String what) {
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
                    draft.unread(new tender.core.wire.ParseProblem(line, e.code(), e.what()));
                }
            }
        }
        return Optional.empty();
    }

    private Optional<KeyStoreFile.Opened> keyStore(Part m) {
        byte[] content;
        try {
            content = m.isInline()
                    ? java.util.Base64.getMimeDecoder().decode(m.text().get())
                    : beside.named(m.name()).orElse(null);
        } catch (IllegalArgumentException e) {
            draft.unread(new tender.core.wire.ParseProblem(m.line(), "pkcs12", "the key store is not whole base64"));
            return Optional.empty();
        }
        if (content == null) {
            draft.note(Hint.PART_ELSEWHERE, m.line(), "pkcs12 " + m.name());
            return Optional.empty();
        }
        try {
            return KeyStoreNotes.of(KeyStoreFile.of(content), m.line(), draft, unlocking);
        } catch (MalformedException e) {
            draft.unread(new tender.core.wire.ParseProblem(m.line(), e.code(), e.what()));
            return Optional.empty();
        }
    }

    /** A control-channel key that is named must have come along; the rest is judged by the file's words alone. */
    private void strength() {
        draft.fact(
                "control-channel key",
                file.controlChannelKey()
                        .map(OpenVpnClient.ControlChannelKey::kind)
                        .orElse("none"));
        draft.fact("ciphers", String.join(", ", file.ciphers()));
        file.controlChannelKey()
                .map(OpenVpnClient.ControlChannelKey::key)
                .ifPresent(m -> text(m, "control-channel key"));
        new OpenVpnStrength(file, draft).note();
    }
}
