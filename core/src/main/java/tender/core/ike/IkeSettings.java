package tender.core.ike;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;
import tender.core.certificate.CertificateFacts;
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
 * @param proof how the client authenticates: {@code pubkey}, {@code psk} or {@code eap-mschapv2}
 * @param identity who it says it is
 * @param chain its certificates, its own first
 * @param user account's name, where it authenticates with one
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
    /** In what is told of a server that authenticates with another method than the file requires. */
    public static final String REQUIRES_OTHER = ", but the file requires ";

    public static final int PORT = 500;
    public static final int NAT_PORT = 4500;
    private static final int LONGEST_CHAIN = 8;
    /** What strongSwan 5.9 offers where a file says nothing or {@code default}, as far as it is known here. */
    private static final String USUAL = "aes128gcm16-aes192gcm16-aes256gcm16-chacha20poly1305"
            + "-prfsha256-prfsha384-prfsha512-prfsha1-curve25519-ecp256-ecp384-ecp521-modp3072-modp4096-modp6144-modp8192"
            + "-modp2048,aes128-aes192-aes256-sha256-sha384-sha512-sha1-prfsha256-prfsha384-prfsha512-prfsha1-curve25519"
            + "-ecp256-ecp384-ecp521-modp3072-modp4096-modp6144-modp8192-modp2048";

    private static final String USUAL_TUNNEL =
            "aes128gcm16-aes192gcm16-aes256gcm16,aes128-aes192-aes256-sha256-sha384-sha512-sha1";

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
        String proof = profile.says("local", "auth").orElse("pubkey").toLowerCase(Locale.ROOT);
        boolean account = proof.matches("eap|eap-mschapv2");
        boolean shared = proof.equals("psk");
        if (!account && !shared && !proof.matches("(ike:|pubkey|rsa|ecdsa).*")) {
            throw new MalformedException("auth", "local", proof + " is not tried");
        }
        Optional<CertificateKey> key = profile.key()
                .map(k -> PrivateKeyFile.of(PemText.read(k.revealText(RevealSecret.TO_HANDSHAKE))
                                .blocks()
                                .get(0))
                        .key()
                        .orElseThrow(() -> new MalformedException("key", "key", "the key is locked")));
        List<byte[]> authorities = certificates(profile.authority());
        List<byte[]> chain = chain(certificates(profile.certificate()), authorities);
        if (!account && !shared && (chain.isEmpty() || key.isEmpty())) {
            throw new MalformedException(
                    "certificate", "local", "the file requires a client certificate and contains none");
        }
        Optional<String> id = profile.says("local", "id").filter(i -> !i.equals("%any"));
        Optional<String> user =
                added.user().or(() -> profile.says("local", "eap_id")).or(() -> id);
        return new IkeSettings(
                account ? "eap-mschapv2" : shared ? "psk" : "pubkey",
                id,
                chain,
                key,
                user,
                added.secret().or(() -> IkeSecrets.of(profile.section(), shared ? "ike" : "eap", shared ? id : user)),
                profile.says("remote", "auth").orElse("pubkey").toLowerCase(Locale.ROOT),
                profile.says("remote", "id").filter(i -> !i.startsWith("%")),
                authorities,
                proposals(profile.says("", "proposals"), Proposal.IKE, USUAL),
                proposals(profile.child("esp_proposals"), Proposal.ESP, USUAL_TUNNEL),
                profile.reach(),
                profile.list("", "vips").stream().anyMatch(v -> v.contains(":") || v.equals("%any6")),
                profile.says("", "remote_port").map(IkeSettings::port).orElse(PORT));
    }

    /** The own certificate, and those of authorities between it and the one that everybody knows. */
    private static List<byte[]> chain(List<byte[]> own, List<byte[]> authorities) {
        List<byte[]> out = new ArrayList<>(own);
        boolean found = !own.isEmpty();
        while (found && out.size() < LONGEST_CHAIN) {
            CertificateFacts last = CertificateFacts.of(out.get(out.size() - 1));
            Optional<byte[]> next = authorities.stream()
                    .filter(a -> !CertificateFacts.of(a).isSelfSigned() && last.isIssuedBy(CertificateFacts.of(a)))
                    .findFirst();
            next.ifPresent(out::add);
            found = next.isPresent();
        }
        return out;
    }

    private static int port(String text) {
        return Port.parse(text).number();
    }

    /** What is offered of what the file says: proposals of which every algorithm is known here. */
    private static String proposals(Optional<String> said, int protocol, String usual) {
        List<String> items = said.map(SectionFile::items).orElse(List.of("default"));
        String offered = items.stream()
                .map(p -> p.equals("default") ? usual : p)
                .filter(p -> Proposal.isTried(protocol, p))
                .collect(Collectors.joining(","));
        if (offered.isEmpty() && !items.isEmpty()) {
            throw new MalformedException("proposal", "proposals", "none of the file's algorithms is tried");
        }
        return offered.isEmpty() ? usual : offered;
    }

    /** Proposals of the file that are not offered in a trial, as they stand there. */
    public static List<String> notOffered(IkeProfile profile) {
        List<String> out = new ArrayList<>();
        profile.list("", "proposals").stream()
                .filter(p -> !p.equals("default") && !Proposal.isTried(Proposal.IKE, p))
                .forEach(out::add);
        profile.child("esp_proposals").map(SectionFile::items).orElse(List.of()).stream()
                .filter(p -> !p.equals("default") && !Proposal.isTried(Proposal.ESP, p))
                .forEach(out::add);
        return out;
    }

    private static List<byte[]> certificates(Optional<String> pem) {
        List<byte[]> out = new ArrayList<>();
        pem.ifPresent(text -> PemText.read(text).blocks().stream()
                .filter(b -> b.label().equals("CERTIFICATE"))
                .map(PemText.Block::der)
                .forEach(out::add));
        return out;
    }

    /** The same that asks for no server by name, and as somebody with an account where told so. */
    public IkeSettings askingNobody(boolean account) {
        return new IkeSettings(
                account ? "eap-mschapv2" : proof,
                identity,
                chain,
                key,
                user.or(() -> identity),
                account ? Optional.empty() : secret,
                serverProof,
                Optional.empty(),
                authorities,
                proposals,
                tunnelProposals,
                reach,
                v6,
                port);
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
