package tender.service.profile;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import tender.core.credential.ClientIdentity;
import tender.core.credential.CredentialKind;
import tender.core.credential.CredentialState;
import tender.core.network.Endpoint;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.office.Protocol;
import tender.core.profile.FileName;
import tender.core.profile.IkeProfile;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.WireGuardFile;
import tender.core.wire.Sha256;
import tender.service.refusal.Refused;
import tender.store.credential.Credentials;
import tender.store.event.Events;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.profile.Accounts;
import tender.store.profile.FileRequests;
import tender.store.profile.ListenerProfiles;
import tender.store.profile.ProfileGrants;
import tender.store.profile.ProfileOrigin;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;

/** Profiles from files that a gateway made itself: the file as it came is revision 1, the repaired one revision 2. */
public final class ImportedProfiles {
    private final Credentials credentials;
    private final Revisions revisions;

    public ImportedProfiles(Credentials credentials, Revisions revisions) {
        this.credentials = credentials;
        this.revisions = revisions;
    }

    /** A listener with what its profiles have already, held until the transaction ends. */
    public static final class Taken {
        private final Listeners.Listener listener;
        private final Set<UUID> devices;
        private final Set<String> labels;
        private final Set<String> publicParts;
        private final Set<UUID> requested;
        private final Map<UUID, ListenerProfiles.FromFile> before;

        private Taken(Tx tx, Gateways.Gateway gateway, Listeners.Listener listener) {
            this.listener = listener;
            this.devices = new HashSet<>(ListenerProfiles.devicesAt(tx, listener.id()));
            this.labels = new HashSet<>(ListenerProfiles.labelsEnding(tx, "-" + gateway.name()));
            this.publicParts = new HashSet<>(ListenerProfiles.publicPartsAt(tx, listener.id()));
            this.requested = FileRequests.devices(tx, gateway.id());
            this.before = ListenerProfiles.fromFiles(tx, listener.id()).stream()
                    .collect(Collectors.toMap(
                            ListenerProfiles.FromFile::deviceId,
                            Function.identity(),
                            (one, other) -> one,
                            HashMap::new));
        }

        public Listeners.Listener listener() {
            return listener;
        }

        /** Whether the same device has a profile there with the same key or name, made of this file or by Tender. */
        public boolean has(ImportedFile a) {
            return devices.contains(a.device().id())
                    && labels.contains(a.label())
                    && publicParts.contains(FileIdentity.of(a).who().value())
                    && renewed(a).isEmpty();
        }

        /**
         * The profile that a file renews: the same device's, made of an earlier file, where the new one has the same name or was
         * asked for.
         */
        private Optional<ListenerProfiles.FromFile> renewed(ImportedFile a) {
            ClientIdentity who = FileIdentity.of(a).who();
            return Optional.ofNullable(before.get(a.device().id()))
                    .filter(p -> p.label().equals(a.label()) && !p.digests().contains(Sha256.hex(a.came())))
                    .filter(p -> p.publicPart().equals(who.value())
                            || who.kind() != CredentialKind.PASSWORD
                                    && requested.contains(a.device().id())
                                    && !publicParts.contains(who.value()));
        }

        /** @throws Refused where a profile has one of them already */
        private void take(String label, UUID deviceId, String publicPart) {
            if (labels.contains(label) || devices.contains(deviceId)) {
                throw new Refused(
                        Refused.Kind.CONFLICT,
                        "this device has a profile there already; to replace it, request a new file first"
                                + " (tender request add)");
            }
            if (!publicParts.add(publicPart)) {
                throw new Refused(
                        Refused.Kind.CONFLICT,
                        "another device's profile has the same key or name: every device has its own");
            }
            labels.add(label);
            devices.add(deviceId);
        }

        /** @throws Refused where the listener is gone */
        public static Taken of(Tx tx, Gateways.Gateway gateway, Listener facts) {
            return Listeners.of(tx, List.of(gateway.id())).stream()
                    .filter(l -> l.name().equals(facts.name()) && !l.gone())
                    .findFirst()
                    .flatMap(l -> Listeners.locked(tx, l.id()))
                    .map(l -> new Taken(tx, gateway, l))
                    .orElseThrow(() -> Refused.notFound("listener"));
        }
    }

    /** What came of a file: a profile, or a new revision of one. */
    public record Made(String label, boolean renewed) {}

    /** @throws Refused where the device has a profile that this file does not renew, or another has the same key or name */
    public Made importFile(Tx tx, Taken taken, ImportedFile a, By by) {
        Optional<ListenerProfiles.FromFile> before = taken.renewed(a);
        if (before.isPresent()) {
            renew(tx, taken, before.get(), a, by);
        } else {
            make(tx, taken, a, by);
        }
        if (FileRequests.received(tx, a.gateway().id(), a.device().id())) {
            Events.say(tx, "gateway", a.gateway().id());
        }
        return new Made(a.label(), before.isPresent());
    }

    private void make(Tx tx, Taken taken, ImportedFile a, By by) {
        String label = a.label();
        FileIdentity identity = FileIdentity.of(a);
        taken.take(label, a.device().id(), identity.who().value());
        UUID profileId = insert(tx, taken.listener, label, a, identity, by.at());
        ProfileGrants.explicit(tx, profileId); // the file stays as it came
        ends(tx, profileId, a, identity, by.at());
        a.decision().ifPresent(d -> Profiles.decided(tx, profileId, d));
        boolean repaired = !a.came().equals(a.repaired());
        String stem = Stems.of(
                tx, profileId, a.handle(), a.device().name(), a.gateway().name());
        revisions(tx, new Edition(profileId, label, stem, 1, by.at()), a);
        Profiles.ready(tx, profileId);
        Events.say(tx, "profile", profileId);
        String words = (repaired ? "repaired by rule" : "as it came")
                + a.decision().map(d -> "; may stay: " + d).orElse("");
        Journal.append(tx, by, "profile-imported", "profile", profileId, words);
    }

    /** The file that came later is the profile's next revision; its key or certificate takes the place of the earlier one. */
    private void renew(Tx tx, Taken taken, ListenerProfiles.FromFile before, ImportedFile a, By by) {
        FileIdentity identity = FileIdentity.of(a);
        identity.ends()
                .filter(end -> before.ends().filter(end::isBefore).isPresent())
                .ifPresent(end -> {
                    throw new Refused(
                            Refused.Kind.CONFLICT,
                            "its certificate ends on " + LocalDate.ofInstant(end, ZoneOffset.UTC)
                                    + ", before the one that the profile has");
                });
        UUID id = before.profileId();
        taken.before.remove(a.device().id()); // one file a device in an import
        taken.publicParts.add(identity.who().value());
        credentials.replace(tx, id, new Credentials.Renewed(identity.who().value(), a.passphrase(), by.at()));
        ends(tx, id, a, identity, by.at());
        Optional<OpenVpnClient> file =
                a.protocol() == Protocol.OPENVPN ? Optional.of(OpenVpnClient.read(a.repaired())) : Optional.empty();
        ProfileGrants.grant(
                tx,
                id,
                identity.reach(),
                file.map(OpenVpnClient::full4).orElse(false),
                file.map(OpenVpnClient::dns).orElse(a.dns()),
                file.map(f -> !f.file().has("route-nopull")).orElse(false));
        Profiles.readdress(tx, id, taken.listener.id(), identity.addresses());
        a.decision().ifPresent(d -> Profiles.decided(tx, id, d));
        revisions(tx, Edition.next(tx, Profiles.byId(tx, id).orElseThrow(), by.at()), a);
        Events.say(tx, "profile", id);
        Journal.append(
                tx,
                by,
                "profile-renewed",
                "profile",
                id,
                "from a new file" + a.decision().map(d -> "; may stay: " + d).orElse(""));
    }

    private UUID insert(
            Tx tx, Listeners.Listener listener, String label, ImportedFile a, FileIdentity identity, Instant now) {
        UUID profileId = Ids.next();
        UUID keyId = Ids.next();
        credentials.insert(
                tx,
                new Credentials.Credential(
                        keyId,
                        Optional.of(a.device().id()),
                        identity.who().kind(),
                        "imported with " + label,
                        Optional.of(identity.who().value()),
                        identity.custody(a),
                        CredentialState.IN_USE,
                        now),
                a.passphrase());
        OpenVpnClient file = a.protocol() == Protocol.OPENVPN ? OpenVpnClient.read(a.repaired()) : null;
        Profiles.insert(
                tx,
                new Profiles.Draft(
                        profileId,
                        Optional.of(a.device().id()),
                        label,
                        ProfileOrigin.EXPORTED,
                        listener.id(),
                        keyId,
                        Optional.empty(),
                        account(tx, identity.who(), keyId),
                        identity.reach(),
                        file != null && file.full4(),
                        file == null ? a.dns() : file.dns(),
                        file != null && !file.file().has("route-nopull"),
                        identity.addresses(),
                        now));
        return profileId;
    }

    /** It ends with its certificate, or earlier by a team's rule; then by itself. */
    private static void ends(Tx tx, UUID profileId, ImportedFile a, FileIdentity identity, Instant now) {
        Optional<Instant> byRule = a.life().map(now::plus);
        Optional<Instant> ends =
                Stream.concat(identity.ends().stream(), byRule.stream()).min(Comparator.naturalOrder());
        ends.ifPresent(end -> Credentials.expiresAt(tx, profileId, ends));
        byRule.filter(end -> ends.get().equals(end)).ifPresent(end -> ProfileExpiry.order(tx, profileId, now, end));
    }

    private void revisions(Tx tx, Edition first, ImportedFile a) {
        revision(tx, first, a.protocol(), a.came());
        if (!a.came().equals(a.repaired())) {
            revision(tx, first.followed(), a.protocol(), a.repaired());
        }
    }

    private static Optional<UUID> account(Tx tx, ClientIdentity who, UUID credentialId) {
        return who.match(key -> Optional.empty(), certificate -> Optional.empty(), account -> {
            UUID id = Ids.next();
            Accounts.insert(tx, id, new Accounts.Ref(account.value(), credentialId));
            return Optional.of(id);
        });
    }

    private void revision(Tx tx, Edition e, Protocol protocol, String text) {
        Map<String, String> madeFor = new LinkedHashMap<>();
        madeFor.put(Attribute.PROTOCOL.word(), protocol.word());
        madeFor.put("endpoint", called(protocol, text));
        String name = switch (protocol) {
            case OPENVPN -> FileName.openVpn(e.stem(), e.number());
            case IKEV2 -> FileName.settings(e.stem(), e.number());
            default -> FileName.of(e.stem(), e.number());
        };
        e.keep(tx, revisions, new Edition.Made(text, name, madeFor));
    }

    private static String called(Protocol protocol, String text) {
        return switch (protocol) {
            case OPENVPN ->
                OpenVpnClient.read(text).calls().stream()
                        .findFirst()
                        .map(c -> c.host() + ":" + c.port())
                        .orElse("");
            case IKEV2 -> IkeProfile.read(text).says("", "remote_addrs").orElse("");
            default ->
                WireGuardFile.read(text).file().peers().stream()
                        .findFirst()
                        .flatMap(p -> p.endpoint())
                        .map(Endpoint::toString)
                        .orElse("");
        };
    }
}
