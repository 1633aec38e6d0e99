package tender.service.profile;

import java.util.Optional;
import java.util.UUID;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKey;
import tender.core.network.Cidr;
import tender.core.office.HandWork;
import tender.core.profile.ClientProfile;
import tender.service.refusal.Refused;
import tender.store.credential.Credentials;
import tender.store.jdbc.Db;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.profile.Instructions;
import tender.store.profile.Profiles;

/** Shows what somebody has to do by hand at a gateway. */
final class HandInstructions {
    private final Db db;
    private final Credentials credentials;

    HandInstructions(Db db, Credentials credentials) {
        this.db = db;
        this.credentials = credentials;
    }

    /** @param paste the text to paste where there is one; it may hold a secret */
    record Shown(String words, Optional<Secret> paste) {}

    /** What somebody has to do by hand for a profile, with the peer's text where one is to be added. */
    Shown of(UUID profileId, By by) {
        return db.inTransaction(tx -> {
            Instructions.Instruction i = Instructions.of(tx, profileId)
                    .orElseThrow(() -> Refused.notFound("instruction: nothing is to be done by hand for it"));
            if (i.kind() != HandWork.ADMIT_PEER) {
                return new Shown(i.words(), Optional.empty());
            }
            Profiles.Profile p = Profiles.byId(tx, profileId).orElseThrow();
            Journal.append(tx, by, "peer-text-shown", "profile", profileId, "");
            return new Shown(
                    i.words(),
                    Optional.of(Secret.of(ClientProfile.gatewaySection(
                            p.label(),
                            TunnelKey.parse(p.identity().value()),
                            p.presharedId().flatMap(id -> credentials.secret(tx, id)),
                            p.addresses().stream().map(Cidr::host).toList()))));
        });
    }
}
