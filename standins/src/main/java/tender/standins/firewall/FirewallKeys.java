package tender.standins.firewall;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.certificate.RevocationFacts;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.openvpn.ClientSettings;
import tender.core.profile.StaticKey;
import tender.standins.device.ClientAuthority;

/**
 * What the firewall keeps beside its configuration and never shows: its own authority, its listeners' keys, the key that
 * wraps control packets, its accounts' passwords.
 */
final class FirewallKeys {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final Duration LIFE = Duration.ofDays(365);

    private final Path folder;
    private final Instant now;

    FirewallKeys(Path configuration, Instant now) throws IOException {
        this.folder = configuration.resolveSibling(configuration.getFileName() + "-keys");
        this.now = now;
        Files.createDirectories(folder);
    }

    ClientAuthority authority() throws IOException {
        return ClientAuthority.in(folder, "Gatehouse 40 of Port Orrin", now);
    }

    String staticKey() throws IOException {
        Path file = folder.resolve("control-channel.key");
        if (!Files.exists(file)) {
            Files.writeString(file, StaticKey.generate(RANDOM));
        }
        return Files.readString(file);
    }

    private Path of(String listener, String part) {
        return folder.resolve(listener.replaceAll("[^A-Za-z0-9-]", "-") + part);
    }

    /** A request for a certificate, for a key that was made for it and is used once the certificate is there. */
    String request(String listener, String name) throws IOException {
        Path fresh = of(listener, ".key.new");
        if (!Files.exists(fresh)) {
            write(fresh, CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM));
        }
        return PemText.write("CERTIFICATE REQUEST", Authority.request(name, read(fresh), RANDOM));
    }

    private static void write(Path file, CertificateKey key) throws IOException {
        Files.writeString(file, PemText.write("PRIVATE KEY", key.privateKey().reveal(RevealSecret.TO_WRITE_FILE)));
    }

    private static CertificateKey read(Path file) throws IOException {
        return CertificateKey.ofPrivate(
                Secret.of(PemText.read(Files.readString(file)).blocks().get(0).der()));
    }

    /** Takes a certificate that was made for the request; refuses one for another key. */
    void use(String listener, String certificate, String authority, String revocations) throws IOException {
        Path fresh = of(listener, ".key.new");
        CertificateFacts facts = CertificateFacts.of(der(certificate));
        boolean right =
                Files.exists(fresh) && facts.key().digest().equals(read(fresh).digest());
        if (!right) {
            throw new ApiFault(400, "the certificate is for another key than the request's");
        }
        Files.writeString(of(listener, ".pem"), certificate);
        Files.writeString(of(listener, ".authority.pem"), authority);
        Files.move(fresh, of(listener, ".key"), StandardCopyOption.REPLACE_EXISTING);
        revoke(listener, revocations);
    }

    void revoke(String listener, String revocations) throws IOException {
        RevocationFacts.of(der(revocations));
        Files.writeString(of(listener, ".revoked.pem"), revocations);
    }

    private static byte[] der(String pem) {
        return PemText.read(pem).blocks().get(0).der();
    }

    /** What a listener shows: what it was given, else one by the firewall's own authority that says what its settings say. */
    ClientSettings.Identity shown(String listener, List<String> names, Optional<Instant> ends) throws IOException {
        Path given = of(listener, ".pem");
        if (Files.exists(given)) {
            return new ClientSettings.Identity(List.of(der(Files.readString(given))), read(of(listener, ".key")));
        }
        CertificateKey key = CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
        return new ClientSettings.Identity(List.of(authority().server(key, names, ends.orElse(now.plus(LIFE)))), key);
    }

    /** Whose certificates a listener believes. */
    List<byte[]> believed(String listener) throws IOException {
        List<byte[]> out = new ArrayList<>(List.of(authority().der()));
        Path given = of(listener, ".authority.pem");
        if (Files.exists(given)) {
            out.set(0, der(Files.readString(given)));
        }
        return out;
    }

    /** What callers of the OpenVPN listeners share: the authority and the control-channel key, and no private key. */
    JsonNode clientSettings(JsonNode document) throws IOException {
        ObjectNode out = JSON.createObjectNode();
        ArrayNode all = out.putArray("listeners");
        for (JsonNode l : document.path("listeners")) {
            String name = l.path("name").asText();
            if (l.path("values").path("protocol").asText().equals("openvpn")) {
                String controlChannelKey =
                        l.path("values").path("control-channel-key").asText("none");
                String file = block(
                                "ca",
                                PemText.write("CERTIFICATE", believed(name).get(0)))
                        + (controlChannelKey.equals("none") ? "" : block("tls-" + controlChannelKey, staticKey()))
                        + (Files.exists(of(name, ".revoked.pem"))
                                ? block("crl-verify", Files.readString(of(name, ".revoked.pem")))
                                : "");
                all.addObject().put("name", name).put("file", file);
            }
        }
        return out;
    }

    private static String block(String name, String text) {
        return "<" + name + ">\n" + text + "</" + name + ">\n";
    }

    Set<String> revoked(String listener) throws IOException {
        Path given = of(listener, ".revoked.pem");
        return Files.exists(given)
                ? Set.copyOf(RevocationFacts.of(der(Files.readString(given))).serials())
                : Set.of();
    }

    Map<String, Secret> passwords() throws IOException {
        Path file = folder.resolve("accounts.json");
        Map<String, Secret> out = new LinkedHashMap<>();
        if (Files.exists(file)) {
            JSON.readTree(Files.readAllBytes(file))
                    .fields()
                    .forEachRemaining(
                            e -> out.put(e.getKey(), Secret.of(e.getValue().asText())));
        }
        return out;
    }

    /** Sets and forgets passwords, all or none. */
    void passwords(JsonNode put, JsonNode drop) throws IOException {
        Map<String, Secret> all = passwords();
        put.forEach(a ->
                all.put(a.path("name").asText(), Secret.of(a.path("password").asText())));
        drop.forEach(name -> all.remove(name.asText()));
        ObjectNode out = JSON.createObjectNode();
        all.forEach((name, secret) -> out.put(name, secret.revealText(RevealSecret.TO_WRITE_FILE)));
        Path fresh = folder.resolve("accounts.json.new");
        Files.write(fresh, JSON.writeValueAsBytes(out));
        Files.move(
                fresh,
                folder.resolve("accounts.json"),
                StandardCopyOption.REPLACE_EXISTING,
                StandardCopyOption.ATOMIC_MOVE);
    }
}
