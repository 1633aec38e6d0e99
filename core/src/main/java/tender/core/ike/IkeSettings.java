package tender.core.ike;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.certificate.PrivateKeyFile;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.network.Cidr;
import tender.core.network.Port;
import tender.core.profile.IkeProfile;
import tender.core.profile.SectionFile;
import tender.core.wire.MalformedException;

/**
 * What a client needs for a connection, out of a profile with its parts.
 *
 * @param proof how the client proves itself: {@code pubkey}, {@code psk} or {@code eap-mschapv2}
 * @param identity who it says it is
 * @param chain its certificates, its own first
 * @param user account's name, where it proves itself by one
 * @param secret password or shared secret; empty where none was given
 * @param server who the server has to be; empty where the profile takes anyone
 * @param port 500, where port 4500 belongs to it; any other stands for itself
 */
public record IkeSettings(
        String proof,
        Optional<String> identity,
        List<byte[]> chain,
        Optional<CertificateKey> key,
        Optional<String> user,
        Optional<Secret> secret,
        String serverProof,
        Optional<String> server,
        List<byte[]> authorities,
        String proposals,
        String tunnelProposals,
        List<Cidr> reach,
        boolean v6,
        int port) {
    public static final int PORT = 500;
    public static final int NAT_PORT = 4500;
    private static final String USUAL =
            "aes256gcm16-prfsha384-ecp384,aes256gcm16-prfsha256-ecp256,aes256-sha256-modp2048,aes128-sha256-modp2048";
    private static final String USUAL_TUNNEL = "aes256gcm16,aes128gcm16,aes256-sha256,aes128-sha256,aes256-sha1";

    /** What a person or a store adds to the file: password or shared secret, with another account than the file's. */
    public record Added(Optional<String> user, Optional<Secret> secret) {
        public static final Added NOTHING = new Added(Optional.empty(), Optional.empty());
    }

    public IkeSettings {
        chain = List.copyOf(chain);
        authorities = List.copyOf(authorities);
        reach = List.copyOf(reach);
    }

    public static IkeSettings of(IkeProfile profile, Added added) {
        SectionFile file = SectionFile.read(profile.section());
        String proof = profile.says("local", "auth").orElse("pubkey");
        if (!proof.matches("pubkey.*|psk|eap.*|rsa.*|ecdsa.*")) {
            throw new MalformedException("auth", "local", proof + " is not tried");
        }
        boolean account = proof.startsWith("eap");
        boolean shared = proof.equals("psk");
        Optional<CertificateKey> key = profile.key()
                .map(k -> PrivateKeyFile.of(PemText.read(k.revealText(RevealSecret.TO_HANDSHAKE))
                                .blocks()
                                .get(0))
                        .key()
                        .orElseThrow(() -> new MalformedException("key", "key", "the key is locked")));
        List<byte[]> chain = certificates(profile.certificate());
        if (!account && !shared && (chain.isEmpty() || key.isEmpty())) {
            throw new MalformedException(
                    "certificate", "local", "the file proves itself by a certificate and has none");
        }
        Optional<String> id = profile.says("local", "id").filter(i -> !i.equals("%any"));
        Optional<String> server = profile.says("remote", "id").filter(i -> !i.startsWith("%"));
        Optional<String> given = file.settings().stream()
                .filter(s -> s.key().equals("secret"))
                .findFirst()
                .map(SectionFile.Setting::value);
        return new IkeSettings(
                account ? "eap-mschapv2" : shared ? "psk" : "pubkey",
                id,
                chain,
                key,
                added.user().or(() -> profile.says("local", "eap_id")).or(() -> id),
                added.secret().or(() -> given.map(Secret::of)),
                profile.says("remote", "auth").orElse("pubkey"),
                server,
                certificates(profile.authority()),
                proposals(profile.says("", "proposals"), USUAL),
                proposals(setting(file, "esp_proposals"), USUAL_TUNNEL),
                profile.reach(),
                profile.says("", "vips").filter(v -> v.contains(":")).isPresent(),
                profile.says("", "remote_port").map(IkeSettings::port).orElse(PORT));
    }

    private static int port(String text) {
        return Port.parse(text).number();
    }

    private static Optional<String> setting(SectionFile file, String key) {
        return file.settings().stream()
                .filter(s -> s.key().equals(key))
                .findFirst()
                .map(SectionFile.Setting::value);
    }

    private static String proposals(Optional<String> said, String usual) {
        return said.map(s -> s.replaceAll("(^|,)\\s*default\\s*(?=,|$)", "$1" + usual))
                .orElse(usual);
    }

    private static List<byte[]> certificates(Optional<String> pem) {
        List<byte[]> out = new ArrayList<>();
        pem.ifPresent(text -> PemText.read(text).blocks().stream()
                .filter(b -> b.label().equals("CERTIFICATE"))
                .map(PemText.Block::der)
                .forEach(out::add));
        return out;
    }

    /** The same towards another port. */
    public IkeSettings calling(int other) {
        return new IkeSettings(
                proof,
                identity,
                chain,
                key,
                user,
                secret,
                serverProof,
                server,
                authorities,
                proposals,
                tunnelProposals,
                reach,
                v6,
                other);
    }

    /** Whether it is tried on the port for NAT alone, with the marker from the first packet on. */
    boolean onlyNatPort() {
        return port != PORT;
    }

    List<Proposal> ike() {
        List<Proposal> all = Proposal.parse(Proposal.IKE, proposals, new byte[0]);
        if (all.isEmpty() || all.stream().anyMatch(p -> p.one(Transform.GROUP).isEmpty())) {
            throw new MalformedException("proposal", "proposals", "a proposal names no group");
        }
        return all;
    }
}
