package tender.service.profile;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.ClientIdentity;
import tender.core.credential.CredentialKind;
import tender.core.credential.CredentialState;
import tender.core.credential.Custody;
import tender.core.credential.Secret;
import tender.store.credential.Credentials;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.profile.Accounts;
import tender.store.profile.Profiles;

/**
 * Who a gateway knows by a name instead of a key: the one in a certificate, or an account's.
 *
 * @param purpose what the credential is for, shown wherever it is listed
 * @param secret kept encrypted, where Tender has it
 * @param account the password of an account beside the certificate, where Tender makes one
 */
record NamedCredential(
        ClientIdentity identity,
        String purpose,
        Custody custody,
        CredentialState state,
        Optional<Secret> secret,
        Optional<Secret> account) {
    /** Writes credential and profile, without a key of their own and without an address; gives the profile's id. */
    UUID keep(Tx tx, Credentials credentials, ProfilePlan w, Instant now) {
        UUID profileId = Ids.next();
        UUID keyId = Ids.next();
        credentials.insert(
                tx,
                new Credentials.Credential(
                        keyId,
                        w.deviceId(),
                        identity.kind(),
                        purpose,
                        Optional.of(identity.value()),
                        custody,
                        state,
                        now),
                secret);
        Optional<Accounts.Ref> signsIn = identity.match(
                key -> Optional.empty(),
                certificate -> account.map(password -> beside(tx, credentials, w, certificate.value(), password, now)),
                own -> Optional.of(new Accounts.Ref(own.value(), keyId)));
        Optional<UUID> accountId = signsIn.map(ref -> {
            UUID id = Ids.next();
            Accounts.insert(tx, id, ref);
            return id;
        });
        Profiles.insert(
                tx,
                new Profiles.Draft(
                        profileId,
                        w.deviceId(),
                        w.label(),
                        w.origin(),
                        w.listener().id(),
                        keyId,
                        Optional.empty(),
                        accountId,
                        w.reach(),
                        w.fullTunnel(),
                        w.dns(),
                        w.takesPushed(),
                        List.of(),
                        now));
        return profileId;
    }

    /** An account of the same name as a certificate's. */
    private static Accounts.Ref beside(
            Tx tx, Credentials credentials, ProfilePlan w, String name, Secret password, Instant now) {
        UUID id = Ids.next();
        credentials.insert(
                tx,
                new Credentials.Credential(
                        id,
                        w.deviceId(),
                        CredentialKind.PASSWORD,
                        "account " + name + " at " + w.listener().gateway(),
                        Optional.empty(),
                        Custody.HELD,
                        CredentialState.CREATED,
                        now),
                Optional.of(password));
        return new Accounts.Ref(name, id);
    }
}
