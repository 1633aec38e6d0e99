package tender.service.instruction;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.certificate.PemText;
import tender.core.certificate.RevocationList;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKey;
import tender.core.network.Cidr;
import tender.core.office.HandWork;
import tender.core.profile.ClientProfile;
import tender.store.certificate.Authorities;
import tender.store.credential.Credentials;
import tender.store.jdbc.Tx;
import tender.store.profile.Instructions;
import tender.store.profile.Profiles;

/** What somebody has to copy for an instruction as it stands. */
final class InstructionTexts {
    private final Credentials credentials;

    InstructionTexts(Credentials credentials) {
        this.credentials = credentials;
    }

    /** @param text may hold a secret: whoever shows it notes that in the journal */
    record Text(String label, Secret text) {}

    List<Text> of(Tx tx, OpenInstruction i) {
        List<Text> out = new ArrayList<>();
        i.profile().filter(p -> p.kind() == HandWork.ADMIT_PEER).ifPresent(p -> out.add(new Text("peer", peer(tx, p))));
        i.profile()
                .filter(p -> p.kind() == HandWork.ADMIT_ACCOUNT)
                .flatMap(p -> Profiles.byId(tx, p.profileId()))
                .flatMap(Profiles.Profile::account)
                .flatMap(a -> credentials.secret(tx, a.credentialId()))
                .ifPresent(password -> out.add(new Text("password", password)));
        i.profile()
                .filter(p -> p.kind() == HandWork.UPLOAD_LIST)
                .flatMap(p -> list(tx, p.what()))
                .ifPresent(list -> out.add(new Text("revocation list", Secret.of(list))));
        i.steps().forEach(s -> s.paste().forEach((label, text) -> out.add(new Text(label, Secret.of(text)))));
        return out;
    }

    private Secret peer(Tx tx, Instructions.Instruction i) {
        Profiles.Profile p = Profiles.byId(tx, i.profileId()).orElseThrow();
        return Secret.of(ClientProfile.gatewaySection(
                p.label(),
                TunnelKey.parse(p.identity().value()),
                p.presharedId().flatMap(id -> credentials.secret(tx, id)),
                p.addresses().stream().map(Cidr::host).toList()));
    }

    /** The newest list of ours that names a certificate. */
    private static Optional<String> list(Tx tx, String serial) {
        return Authorities.all(tx).stream()
                .map(Authorities.Authority::list)
                .filter(list -> RevocationList.of(list).revoked().stream()
                        .anyMatch(r -> r.serial().equals(serial)))
                .findFirst()
                .map(list -> PemText.write("X509 CRL", list));
    }
}
