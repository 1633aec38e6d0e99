package tender.service.profile;

import java.time.Instant;
import java.util.Optional;
import java.util.UUID;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.PemText;
import tender.core.certificate.SignatureCheck;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.office.Protocol;
import tender.core.profile.IkeProfile;
import tender.core.profile.OpenVpnClient;
import tender.core.wire.MalformedException;
import tender.store.certificate.Authorities;
import tender.store.jdbc.Tx;
import tender.store.profile.ProfileOrigin;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;

/** The certificates of imported profiles, which Tender did not sign. */
final class ForeignCertificates {
    /**
     * A certificate out of an imported file.
     *
     * @param authorityId the authority of ours that signed it before Tender had it; empty for somebody else's
     */
    record Foreign(String serial, Optional<UUID> authorityId) {
        boolean ours() {
            return authorityId.isPresent();
        }
    }

    private final Revisions revisions;
    private final OpenVpnProfiles certificates;

    ForeignCertificates(Revisions revisions, OpenVpnProfiles certificates) {
        this.revisions = revisions;
        this.certificates = certificates;
    }

    /** Empty for a profile that was not imported, or that has no certificate. */
    Optional<Foreign> of(Tx tx, Profiles.Profile p) {
        if (p.origin() != ProfileOrigin.EXPORTED && p.origin() != ProfileOrigin.IMPORTED) {
            return Optional.empty();
        }
        return Revisions.of(tx, p.id()).stream()
                .findFirst()
                .flatMap(r -> revisions.content(tx, r.id()))
                .flatMap(content -> certificate(content, Protocol.parse(protocol(tx, p))))
                .map(der -> new Foreign(CertificateFacts.of(der).serial(), signer(tx, der)));
    }

    private static String protocol(Tx tx, Profiles.Profile p) {
        return tender.store.office.Listeners.byId(tx, p.listenerId())
                .orElseThrow()
                .protocol();
    }

    private static Optional<byte[]> certificate(Secret content, Protocol protocol) {
        String text = content.revealText(RevealSecret.TO_COMPARE);
        try {
            Optional<String> pem = switch (protocol) {
                case OPENVPN -> OpenVpnClient.read(text).certificate().flatMap(OpenVpnClient.Part::text);
                case IKEV2 -> IkeProfile.read(text).certificate();
                default -> Optional.empty();
            };
            return pem.flatMap(t -> PemText.read(t).blocks().stream().findFirst())
                    .map(PemText.Block::der);
        } catch (MalformedException e) {
            return Optional.empty();
        }
    }

    private static Optional<UUID> signer(Tx tx, byte[] certificate) {
        return Authorities.all(tx).stream()
                .filter(a -> SignatureCheck.isSigned(certificate, a.certificate()))
                .map(Authorities.Authority::id)
                .findFirst();
    }

    void revoke(Tx tx, Foreign certificate, String label, Instant now) {
        certificates.revokeForeign(tx, certificate.authorityId().orElseThrow(), certificate.serial(), label, now);
    }
}
