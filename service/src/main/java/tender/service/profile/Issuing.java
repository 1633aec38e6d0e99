package tender.service.profile;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.api.ProblemCode;
import tender.api.ProfileApi;
import tender.core.credential.CredentialKind;
import tender.core.credential.Custody;
import tender.core.credential.Life;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKey;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.profile.FileName;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;
import tender.service.certificate.ListDelivery;
import tender.service.event.LiveEvents;
import tender.service.gateway.GatewayJobs;
import tender.service.http.ApiFailure;
import tender.service.http.Json;
import tender.service.session.Watch;
import tender.store.credential.Credentials;
import tender.store.event.Events;
import tender.store.handout.Handouts;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.office.Sites;
import tender.store.person.People;
import tender.store.profile.Changes;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;

/**
 * Makes, renews and ends profiles in the records, and says what is wanted on the gateway. One transaction holds all of it
 * together with the job that carries it out, so that a kill leaves either nothing or everything to be carried out.
 */
public final class Issuing {
    private static final String OPENVPN = "openvpn";
    private static final List<String> ISSUED = List.of("wireguard", OPENVPN);
    private static final int MAX_NETWORKS = 64;
    private static final int MAX_MANY = 10_000;

    private final Db db;
    private final Gateways gateways;
    private final Credentials credentials;
    private final Revisions revisions;
    private final KeyedProfiles byKey;
    private final CertificateProfiles byCertificate;

    public Issuing(
            Db db, Gateways gateways, Credentials credentials, Revisions revisions, CertificateProfiles byCertificate) {
        this.db = db;
        this.gateways = gateways;
        this.credentials = credentials;
        this.revisions = revisions;
        this.byKey = new KeyedProfiles(credentials, revisions);
        this.byCertificate = byCertificate;
    }

    /** What came of it: the profile, and the job that writes the gateway (none for a dry run). */
    public record Outcome(Profiles.Profile profile, Optional<UUID> job) {}

    /** Carries a dry run's result out of a transaction that is rolled back. */
    private static final class DryRun extends RuntimeException {
        private static final long serialVersionUID = 1L;
        private final transient Outcome outcome;

        private DryRun(Outcome outcome) {
            super("", null, false, false);
            this.outcome = outcome;
        }
    }

    public Outcome issue(ProfileApi.Issue request, String actor, Instant now) {
        try {
            return db.inTransaction(tx -> {
                Outcome outcome = issue(tx, request, actor, now);
                if (request.dryRun().orElse(false)) {
                    throw new DryRun(new Outcome(outcome.profile(), Optional.empty()));
                }
                return outcome;
            });
        } catch (DryRun dry) {
            return dry.outcome;
        }
    }

    private Outcome issue(Tx tx, ProfileApi.Issue request, String actor, Instant now) {
        People.Person person = People.byHandle(tx, Fields.required("person", request.person()))
                .orElseThrow(() -> new ApiFailure(ProblemCode.NOT_FOUND, "there is no such person", "person"));
        String deviceName = Fields.required("device", request.device());
        People.Device device = People.devices(tx, List.of(person.id())).stream()
                .filter(d -> d.name().equals(deviceName))
                .findFirst()
                .orElseThrow(
                        () -> new ApiFailure(ProblemCode.NOT_FOUND, person.handle() + " has no such device", "device"));
        Gateways.Gateway gateway = gateways.byName(tx, Fields.required("gateway", request.gateway()))
                .orElseThrow(() -> new ApiFailure(ProblemCode.NOT_FOUND, "there is no such gateway", "gateway"));
        Listeners.Listener listener = listener(tx, gateway, request.listener());
        Profiles.present(tx, device.id(), listener.id()).ifPresent(label -> {
            throw new ApiFailure(
                    ProblemCode.CONFLICT,
                    "this device has the profile " + label + " for that listener already; renew or withdraw it",
                    "device");
        });
        Optional<TunnelKey> madeOnDevice =
                request.publicKey().map(text -> Fields.parse("publicKey", text, TunnelKey::parse));
        madeOnDevice.ifPresent(key -> refuseShared(tx, listener, key));
        boolean full = request.fullTunnel().orElse(false);
        Optional<List<Cidr>> reach =
                request.reach().filter(r -> !r.isEmpty()).map(list -> each("reach", list, Cidr::parse));
        List<IpAddress> dns = each("dns", request.dns().orElse(List.of()), IpAddress::parse);
        Sites.Site site = Sites.byId(tx, gateway.siteId()).orElseThrow();
        String label = label(tx, person.handle() + "-" + device.name() + "-" + gateway.name());
        Wanted wanted = new Wanted(
                Optional.of(device.id()),
                label,
                "issued",
                person.handle(),
                listener,
                madeOnDevice,
                Planning.reach(full, reach, site, listener),
                full,
                dns);
        if (listener.protocol().equals(OPENVPN)) {
            if (madeOnDevice.isPresent()) {
                throw new ApiFailure(
                        ProblemCode.CONFLICT,
                        "a device's own key comes as a request; tender authority sign takes it",
                        "publicKey");
            }
            return writeCertified(tx, wanted, request.until(), actor, now);
        }
        Outcome written = write(tx, wanted, actor, now);
        request.until().ifPresent(end -> lives(tx, written.profile().id(), request.until(), now));
        return written;
    }

    /** What came of issuing to many: labels, the one job that writes the gateway, and those who have one already. */
    public record Many(List<String> issued, Optional<UUID> job, List<String> present) {}

    /** Issues to every device of a team, or of everyone, that has no profile there yet: one transaction, one write at the gateway. */
    public Many issueMany(ProfileApi.IssueMany request, String actor, Instant now) {
        return db.inTransaction(tx -> {
            Gateways.Gateway gateway = gateways.byName(tx, Fields.required("gateway", request.gateway()))
                    .orElseThrow(() -> new ApiFailure(ProblemCode.NOT_FOUND, "there is no such gateway", "gateway"));
            Listeners.Listener listener = listener(tx, gateway, request.listener());
            Sites.Site site = Sites.byId(tx, gateway.siteId()).orElseThrow();
            List<Cidr> reach = Planning.reach(false, Optional.empty(), site, listener);
            Map<UUID, People.Person> people = People.page(tx, "", MAX_MANY).stream()
                    .filter(p -> request.team().isEmpty() || p.team().equals(request.team()))
                    .collect(Collectors.toMap(People.Person::id, p -> p));
            Set<UUID> have = Profiles.devicesAt(tx, listener.id());
            Planning.Addresses addresses = new Planning.Addresses(tx, listener);
            boolean certified = listener.protocol().equals(OPENVPN);
            boolean dryRun = request.dryRun().orElse(false);
            List<String> issued = new ArrayList<>();
            List<String> present = new ArrayList<>();
            for (People.Device d : People.devices(tx, people.keySet())) {
                String label = people.get(d.personId()).handle() + "-" + d.name() + "-" + gateway.name();
                if (have.contains(d.id())) {
                    present.add(label);
                    continue;
                }
                issued.add(label);
                if (dryRun) {
                    continue;
                }
                Wanted w = new Wanted(
                        Optional.of(d.id()),
                        label,
                        "issued",
                        d.person(),
                        listener,
                        Optional.empty(),
                        reach,
                        false,
                        List.of());
                if (certified) {
                    writeCertified(tx, w, request.until(), actor, now);
                } else {
                    UUID id = byKey.keep(tx, w, addresses.next(), actor, now);
                    request.until().ifPresent(end -> lives(tx, id, request.until(), now));
                }
            }
            Optional<UUID> job = issued.isEmpty() || certified || dryRun
                    ? Optional.empty()
                    : Optional.of(order(tx, gateway.id(), now));
            return new Many(issued, job, present);
        });
    }

    private static <T> List<T> each(String field, List<String> texts, java.util.function.Function<String, T> parser) {
        Fields.range(field, texts.size(), 0, MAX_NETWORKS);
        return java.util.stream.IntStream.range(0, texts.size())
                .mapToObj(i -> Fields.parse(field + "[" + i + "]", texts.get(i), parser))
                .toList();
    }

    private static Listeners.Listener listener(Tx tx, Gateways.Gateway gateway, Optional<String> name) {
        List<Listeners.Listener> all = Listeners.of(tx, List.of(gateway.id())).stream()
                .filter(l -> !l.gone())
                .filter(l -> name.isEmpty()
                        ? ISSUED.contains(l.protocol())
                        : l.name().equals(name.get()))
                .toList();
        if (all.size() != 1) {
            throw new ApiFailure(
                    ProblemCode.NOT_FOUND,
                    all.isEmpty()
                            ? gateway.name() + " has no such listener; read it first: tender gateway read "
                                    + gateway.name()
                            : gateway.name() + " has several listeners; name one",
                    "listener");
        }
        if (!ISSUED.contains(all.get(0).protocol())) {
            throw new ApiFailure(
                    ProblemCode.CONFLICT,
                    "profiles are issued for WireGuard and OpenVPN listeners; "
                            + all.get(0).name() + " speaks " + all.get(0).protocol(),
                    "listener");
        }
        return Listeners.locked(tx, all.get(0).id()).orElseThrow();
    }

    /** One key, one device: a key that any living profile or the listener itself uses is refused. */
    private static void refuseShared(Tx tx, Listeners.Listener listener, TunnelKey key) {
        boolean shared = key.toString().equals(listener.publicKey())
                || !Profiles.holders(tx, listener.id(), List.of(key.toString())).isEmpty();
        if (shared) {
            throw new ApiFailure(
                    ProblemCode.CONFLICT, "this key is in use already; every device has a key of its own", "publicKey");
        }
    }

    private static String label(Tx tx, String wanted) {
        return Profiles.byLabel(tx, wanted).isEmpty()
                ? wanted
                : wanted + "-" + Ids.next().toString().substring(9, 13);
    }

    private Outcome write(Tx tx, Wanted w, String actor, Instant now) {
        UUID profileId = byKey.keep(tx, w, new Planning.Addresses(tx, w.listener()).next(), actor, now);
        UUID job = order(tx, w.listener().gatewayId(), now);
        return new Outcome(Profiles.byId(tx, profileId).orElseThrow(), Optional.of(job));
    }

    /** Nothing is written at the gateway: it believes the authority, and so the certificate. */
    private Outcome writeCertified(Tx tx, Wanted w, Optional<Instant> until, String actor, Instant now) {
        UUID profileId = Ids.next();
        UUID keyId = Ids.next();
        CertificateProfiles.Place place = byCertificate.place(tx, w.listener());
        credentials.insert(
                tx,
                new Credentials.Credential(
                        keyId,
                        w.deviceId(),
                        CredentialKind.CERTIFICATE,
                        "certificate of " + w.label(),
                        Optional.of(Watch.BY_NAME + CertificateProfiles.commonName(w.label())),
                        Custody.HELD,
                        Life.MADE,
                        now),
                Optional.empty());
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
                        w.reach(),
                        w.fullTunnel(),
                        w.dns(),
                        List.of(),
                        now));
        CertificateProfiles.Pair pair = byCertificate.sign(tx, place, profileId, w.deviceId(), w.label(), until, now);
        Credentials.livesUntil(tx, profileId, Optional.of(pair.certificate().ends()));
        String text = byCertificate.text(w.label() + ", revision 1", place, pair, w.reach(), w.dns());
        certified(tx, profileId, 1, w.who(), place, w.reach(), text, now);
        Profiles.move(tx, List.of(profileId), java.util.Set.of("writing"), "ready", Optional.empty());
        Events.say(tx, "profile", profileId.toString());
        Journal.append(
                tx,
                now,
                actor,
                "profile-issued",
                "profile",
                profileId.toString(),
                "revision 1, " + Planning.digest(text) + ", certificate "
                        + pair.certificate().serial());
        return new Outcome(Profiles.byId(tx, profileId).orElseThrow(), Optional.empty());
    }

    private void certified(
            Tx tx,
            UUID profileId,
            int number,
            String who,
            CertificateProfiles.Place place,
            List<Cidr> reach,
            String text,
            Instant now) {
        revisions.insert(
                tx,
                new Revisions.Revision(
                        Ids.next(),
                        profileId,
                        number,
                        Planning.digest(text),
                        FileName.openVpn(who, place.listener().gateway(), number),
                        Json.text(CertificateProfiles.madeFor(place, reach)),
                        now),
                Secret.of(text));
    }

    /** A new revision of a certified profile; with a new certificate where another end is wanted. */
    private String renewCertified(
            Tx tx, Profiles.Profile p, Listeners.Listener listener, Optional<Instant> until, int number, Instant now) {
        CertificateProfiles.Place place = byCertificate.place(tx, listener);
        CertificateProfiles.Pair pair = until.isPresent()
                ? byCertificate.sign(tx, place, p.id(), p.deviceId(), p.label(), until, now)
                : byCertificate.held(tx, p.id());
        Credentials.livesUntil(tx, p.id(), Optional.of(pair.certificate().ends()));
        String text = byCertificate.text(p.label() + ", revision " + number, place, pair, p.reach(), p.dns());
        certified(tx, p.id(), number, p.person().orElse(p.label()), place, p.reach(), text, now);
        return text;
    }

    private static void lives(Tx tx, UUID profileId, Optional<Instant> until, Instant now) {
        if (until.filter(end -> !end.isAfter(now)).isPresent()) {
            throw new ApiFailure(ProblemCode.MALFORMED, "the end lies in the past", "until");
        }
        Credentials.livesUntil(tx, profileId, until);
        until.ifPresent(end -> Ending.order(tx, profileId, end));
    }

    private static UUID order(Tx tx, UUID gatewayId, Instant now) {
        UUID job = Jobs.add(tx, GatewayJobs.change(gatewayId), now);
        Events.say(tx, LiveEvents.JOB_ADDED, job.toString());
        return job;
    }

    /** The listener's canary: a profile of Tender's own, to try a listener without disturbing anyone. Made on first use. */
    public Profiles.Profile canary(UUID listenerId, String actor, Instant now) {
        return db.inTransaction(tx -> {
            Listeners.Listener listener =
                    Listeners.locked(tx, listenerId).orElseThrow(() -> ApiFailure.notFound("listener"));
            return Profiles.canary(tx, listenerId).orElseGet(() -> {
                Gateways.Gateway gateway =
                        gateways.byId(tx, listener.gatewayId()).orElseThrow();
                Sites.Site site = Sites.byId(tx, gateway.siteId()).orElseThrow();
                String label = label(tx, "canary-" + gateway.name() + "-" + listener.name());
                return write(
                                tx,
                                new Wanted(
                                        Optional.empty(),
                                        label,
                                        "canary",
                                        "canary",
                                        listener,
                                        Optional.empty(),
                                        Planning.reach(false, Optional.empty(), site, listener),
                                        false,
                                        List.of()),
                                actor,
                                now)
                        .profile();
            });
        });
    }

    /**
     * A new revision for the listener as it is now, with the same keys; moved to a listener side by side with its own, where
     * its keys are known too, or with another end, where the request says so. A peer that had left at its end comes back.
     */
    public Profiles.Profile renew(UUID profileId, ProfileApi.Renew request, String actor, Instant now) {
        return db.inTransaction(tx -> {
            request.to().ifPresent(name -> move(tx, ready(tx, profileId), name));
            Profiles.Profile p = ready(tx, profileId);
            Listeners.Listener listener = Listeners.byId(tx, p.listenerId()).orElseThrow();
            if (listener.protocol().equals(OPENVPN)) {
                int next = p.revision() + 1;
                String certified = renewCertified(tx, p, listener, request.until(), next, now);
                renewed(tx, profileId, next, certified, actor, now);
                return Profiles.byId(tx, profileId).orElseThrow();
            }
            boolean ended = Credentials.isExpired(tx, profileId);
            if (request.until().isPresent() || ended) {
                lives(tx, profileId, request.until(), now);
            }
            if (ended) {
                Changes.want(tx, listener.gatewayId(), listener.id(), profileId, "add-peer", now);
                order(tx, listener.gatewayId(), now);
            }
            Optional<Secret> presharedKey = p.presharedId().flatMap(id -> credentials.secret(tx, id));
            int number = p.revision() + 1;
            List<Cidr> reach = p.reach();
            String text = Planning.text(
                    p.label() + ", revision " + number,
                    credentials.secret(tx, p.keyId()),
                    presharedKey,
                    listener,
                    p.addresses(),
                    reach,
                    p.dns());
            byKey.revision(tx, profileId, number, p.person().orElse("canary"), listener, reach, text, now);
            renewed(tx, profileId, number, text, actor, now);
            return Profiles.byId(tx, profileId).orElseThrow();
        });
    }

    private static void renewed(Tx tx, UUID profileId, int number, String text, String actor, Instant now) {
        Events.say(tx, "profile", profileId.toString());
        Journal.append(
                tx,
                now,
                actor,
                "profile-renewed",
                "profile",
                profileId.toString(),
                "revision " + number + ", " + Planning.digest(text));
    }

    private static void move(Tx tx, Profiles.Profile p, String name) {
        Listeners.Listener from = Listeners.byId(tx, p.listenerId()).orElseThrow();
        Listeners.Listener to = Listeners.of(tx, List.of(p.gatewayId())).stream()
                .filter(l -> l.name().equals(name) && !l.gone())
                .findFirst()
                .orElseThrow(() ->
                        new ApiFailure(ProblemCode.NOT_FOUND, p.gateway() + " has no listener " + name, "listener"));
        boolean beside = to.tunnels().equals(from.tunnels()) && to.publicKey().equals(from.publicKey());
        if (!beside && !from.id().equals(to.id())) {
            throw new ApiFailure(
                    ProblemCode.CONFLICT,
                    name + " is not side by side with " + from.name() + ": issue a new profile there instead",
                    "listener");
        }
        Profiles.moveListener(tx, p.id(), to.id());
    }

    private static Profiles.Profile ready(Tx tx, UUID profileId) {
        Profiles.Profile p = Profiles.byId(tx, profileId).orElseThrow(() -> ApiFailure.notFound("profile"));
        if (!p.state().equals("ready")) {
            throw new ApiFailure(
                    ProblemCode.CONFLICT,
                    p.label() + " is " + p.state()
                            + p.problem().map(w -> ": " + w).orElse(""));
        }
        return p;
    }

    /** Ends a profile: its handouts are withdrawn, its credentials revoked and erased, its peer removed from the gateway. */
    public Outcome withdraw(UUID profileId, String actor, Instant now) {
        return db.inTransaction(tx -> {
            Profiles.Profile p = Profiles.byId(tx, profileId)
                    .filter(q -> q.state().equals("withdrawing") && q.problem().isPresent())
                    .orElseGet(() -> ready(tx, profileId));
            Handouts.withdrawOf(tx, profileId, now);
            credentials.revokeOf(tx, profileId);
            Profiles.move(
                    tx, List.of(profileId), java.util.Set.of("ready", "withdrawing"), "withdrawing", Optional.empty());
            Listeners.Listener listener = Listeners.byId(tx, p.listenerId()).orElseThrow();
            UUID job;
            if (listener.protocol().equals(OPENVPN)) {
                byCertificate.revoke(tx, profileId, now);
                job = Jobs.add(tx, ListDelivery.order(listener.gatewayId()), now);
                Events.say(tx, LiveEvents.JOB_ADDED, job.toString());
            } else {
                Changes.want(tx, listener.gatewayId(), listener.id(), profileId, "remove-peer", now);
                job = order(tx, listener.gatewayId(), now);
            }
            Events.say(tx, "profile", profileId.toString());
            Journal.append(tx, now, actor, "profile-withdrawn", "profile", profileId.toString(), "");
            return new Outcome(Profiles.byId(tx, profileId).orElseThrow(), Optional.of(job));
        });
    }

    /** The newest revision of a ready profile with its text, for handing out or trying. */
    public record Newest(Profiles.Profile profile, Revisions.Revision revision, Secret content) {}

    public Newest newest(UUID profileId) {
        return db.inTransaction(tx -> {
            Profiles.Profile p = ready(tx, profileId);
            Revisions.Revision revision = Revisions.of(tx, profileId).stream()
                    .findFirst()
                    .orElseThrow(() -> new MalformedException("profile", "", "has no revision"));
            return new Newest(p, revision, revisions.content(tx, revision.id()));
        });
    }
}
