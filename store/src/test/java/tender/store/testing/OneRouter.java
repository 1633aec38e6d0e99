package tender.store.testing;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.core.credential.CredentialKind;
import tender.core.credential.CredentialState;
import tender.core.credential.Custody;
import tender.core.credential.Secret;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.store.credential.Credentials;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.office.Sites;
import tender.store.person.People;
import tender.store.profile.ProfileOrigin;
import tender.store.profile.ProfileState;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;
import tender.store.secret.ColumnCipher;
import tender.store.secret.MasterKey;

/** One site with one router and one person with one device, as most tests of the records need them. */
public final class OneRouter {
    public final UUID gateway = Ids.next();
    public final UUID listener;
    public final UUID device = Ids.next();
    public final Credentials credentials;
    public final Revisions revisions;
    private final Db db;
    private final Instant now;

    public OneRouter(Db db, Instant now) {
        ColumnCipher cipher = new ColumnCipher(List.of(MasterKey.parse("k1:" + "05".repeat(32))));
        this.db = db;
        this.now = now;
        this.credentials = new Credentials(cipher);
        this.revisions = new Revisions(cipher);
        UUID site = Ids.next();
        UUID person = Ids.next();
        listener = db.inTransaction(tx -> {
            Sites.insert(tx, new Sites.Site(site, "pier-two", "Pier two", "company", "UTC", Map.of(), 1));
            new Gateways(cipher)
                    .insert(
                            tx,
                            new Gateways.Gateway(
                                    gateway,
                                    site,
                                    "pier-two",
                                    "pier2",
                                    "router",
                                    new Gateways.Management(
                                            "ssh",
                                            Host.parse("192.0.2.9"),
                                            new Port(22),
                                            "keeper",
                                            "SHA256:x",
                                            true,
                                            "plain-router",
                                            false,
                                            "key",
                                            Optional.empty()),
                                    Gateways.OperatorSettings.of(Optional.empty(), List.of()),
                                    Gateways.LastReading.NEVER,
                                    now,
                                    1),
                            Secret.of("KEY"));
            UUID made = Listeners.put(
                    tx,
                    new Listeners.Listener(
                            Ids.next(),
                            gateway,
                            "",
                            "wg0",
                            "wireguard",
                            Transport.UDP,
                            new Port(51820),
                            "PUBLIC",
                            List.of(Cidr.parse("10.99.0.0/16")),
                            Optional.of(IpAddress.parse("10.99.0.1")),
                            List.of(IpAddress.parse("10.99.0.1")),
                            true,
                            Optional.empty(),
                            1,
                            false));
            People.insert(
                    tx,
                    new People.Person(person, "mara", "Mara", "", Optional.of("masters"), Optional.empty(), 0, now, 1));
            People.insert(tx, new People.Device(device, person, "mara", "phone", "phone", "", 1));
            return made;
        });
    }

    /** A ready profile of the device at the listener. */
    public UUID profile(String label, String address, String publicKey) {
        UUID id = Ids.next();
        UUID key = Ids.next();
        db.run(tx -> {
            credentials.insert(
                    tx,
                    new Credentials.Credential(
                            key,
                            Optional.of(device),
                            CredentialKind.TUNNEL_KEY_PAIR,
                            "key of " + label,
                            Optional.of(publicKey),
                            Custody.HELD,
                            CredentialState.CREATED,
                            now),
                    Optional.of(Secret.of("PRIVATE")));
            Profiles.insert(
                    tx,
                    new Profiles.Draft(
                            id,
                            Optional.of(device),
                            label,
                            ProfileOrigin.ISSUED,
                            listener,
                            key,
                            Optional.empty(),
                            Optional.empty(),
                            List.of(Cidr.parse("10.20.4.0/24")),
                            false,
                            List.of(),
                            false,
                            List.of(IpAddress.parse(address)),
                            now));
            revisions.insert(
                    tx,
                    new Revisions.Revision(Ids.next(), id, 1, "digest", "file.conf", Map.of(), now),
                    Secret.of("FILE"));
            Profiles.move(tx, List.of(id), Set.of(ProfileState.WRITING), ProfileState.READY, Optional.empty());
        });
        return id;
    }
}
