package tender.service.profile;

import java.security.SecureRandom;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.CredentialKind;
import tender.core.credential.CredentialState;
import tender.core.credential.Custody;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKey;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.IpAddress;
import tender.core.profile.FileName;
import tender.core.wire.Sha256;
import tender.store.credential.Credentials;
import tender.store.event.Events;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;
import tender.store.reconcile.DesiredResources;

/** Profiles of WireGuard listeners: a key pair, a preshared key, addresses, a file, and a peer wanted at the gateway. */
final class WireGuardProfiles {
    private final Credentials credentials;
    private final Revisions revisions;
    private final SecureRandom random = new SecureRandom();

    WireGuardProfiles(Credentials credentials, Revisions revisions) {
        this.credentials = credentials;
        this.revisions = revisions;
    }

    /** Writes keys, profile, first revision, and what is wanted at the gateway; the caller orders the job that carries it out. */
    UUID keep(Tx tx, ProfilePlan w, List<IpAddress> addresses, By by) {
        Optional<TunnelKeyPair> pair =
                w.madeOnDevice().isPresent() ? Optional.empty() : Optional.of(TunnelKeyPair.generate(random));
        TunnelKey publicKey =
                w.madeOnDevice().orElseGet(() -> pair.orElseThrow().publicKey());
        Secret presharedKey = TunnelKeyPair.presharedKey(random);
        UUID keyId = tunnelKey(tx, w, publicKey, pair.map(TunnelKeyPair::privateKey), by.at());
        UUID profileId = insert(tx, w, keyId, presharedKey(tx, w, presharedKey, by.at()), addresses, by.at());
        Edition first = Edition.first(tx, profileId, w, by.at());
        String text = Planning.text(
                first.title(),
                pair.map(TunnelKeyPair::privateKey),
                Optional.of(presharedKey),
                w.listener(),
                addresses,
                w.reach(),
                w.dns());
        first.keep(tx, revisions, made(first, Planning.madeFor(w.listener(), w.reach()), text));
        DesiredResources.peer(
                tx, w.listener().gatewayId(), w.listener().id(), profileId, DesiredResources.Presence.PRESENT);
        Events.say(tx, "profile", profileId);
        Journal.append(tx, by, "profile-issued", "profile", profileId, "revision 1, " + Sha256.hex(text));
        return profileId;
    }

    private UUID tunnelKey(Tx tx, ProfilePlan w, TunnelKey publicKey, Optional<Secret> privateKey, Instant now) {
        UUID keyId = Ids.next();
        credentials.insert(
                tx,
                new Credentials.Credential(
                        keyId,
                        w.deviceId(),
                        CredentialKind.TUNNEL_KEY_PAIR,
                        "tunnel key of " + w.label(),
                        Optional.of(publicKey.toString()),
                        privateKey.isPresent() ? Custody.HELD : Custody.DEVICE_ONLY,
                        CredentialState.CREATED,
                        now),
                privateKey);
        return keyId;
    }

    private UUID presharedKey(Tx tx, ProfilePlan w, Secret presharedKey, Instant now) {
        UUID presharedId = Ids.next();
        credentials.insert(
                tx,
                new Credentials.Credential(
                        presharedId,
                        w.deviceId(),
                        CredentialKind.PRESHARED_KEY,
                        "preshared key of " + w.label(),
                        Optional.empty(),
                        Custody.HELD,
                        CredentialState.CREATED,
                        now),
                Optional.of(presharedKey));
        return presharedId;
    }

    private static UUID insert(
            Tx tx, ProfilePlan w, UUID keyId, UUID presharedId, List<IpAddress> addresses, Instant now) {
        UUID profileId = Ids.next();
        Profiles.insert(
                tx,
                new Profiles.Draft(
                        profileId,
                        w.deviceId(),
                        w.label(),
                        w.origin(),
                        w.listener().id(),
                        keyId,
                        Optional.of(presharedId),
                        Optional.empty(),
                        w.reach(),
                        w.fullTunnel(),
                        w.dns(),
                        w.takesPushed(),
                        addresses,
                        now));
        return profileId;
    }

    private static Edition.Made made(Edition e, Map<String, String> madeFor, String text) {
        return new Edition.Made(text, FileName.of(e.stem(), e.number()), madeFor);
    }

    String renew(Tx tx, Renewal r, String text) {
        Map<String, String> madeFor = Planning.madeFor(r.listener(), r.profile().reach());
        return r.edition().keep(tx, revisions, made(r.edition(), madeFor, text));
    }
}
