package tender.service.profile;

import java.security.SecureRandom;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.api.ProfileApi;
import tender.core.credential.Custody;
import tender.core.credential.Passphrase;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKey;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.office.HandWork;
import tender.core.office.Protocol;
import tender.core.profile.ClientProfile;
import tender.core.wire.Fields;
import tender.service.gateway.GatewayJobs;
import tender.service.office.ListenerChoice;
import tender.service.refusal.Refused;
import tender.store.certificate.Certificates;
import tender.store.credential.Credentials;
import tender.store.event.Events;
import tender.store.handout.Handouts;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.office.Sites;
import tender.store.person.People;
import tender.store.profile.Instructions;
import tender.store.profile.ProfileState;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;
import tender.store.reconcile.DesiredResources;
import tender.store.reconcile.DesiredResources.Presence;

/**
 * Makes and ends profiles in the records, and says what is wanted on the gateway. One transaction holds all of it
 * together with the job that carries it out, so that a kill leaves either nothing or everything to be carried out.
 */
public final class Issuing {
    private static final SecureRandom RANDOM = new SecureRandom();
    public static final Set<ProfileState> TRIABLE = Set.of(ProfileState.READY, ProfileState.WAITING);

    private static final int MAX_NETWORKS = 64;
    private static final int MAX_MANY = 10_000;

    private final Db db;
    private final Gateways gateways;
    private final Credentials credentials;
    private final Revisions revisions;
    private final KeyedProfiles byKey;
    private final CertificateProfiles certificates;
    private final ByCertificate byCertificate;
    private final ByAccount byAccount;
    private final Ways ways;
    private final ByHand byHand;
    private final ForeignCertificates foreign;

    public Issuing(
            Db db,
            Gateways gateways,
            Credentials credentials,
            Revisions revisions,
            CertificateProfiles certificates,
            ByHand byHand) {
        this.db = db;
        this.byHand = byHand;
        this.foreign = new ForeignCertificates(revisions, certificates);
        this.gateways = gateways;
        this.credentials = credentials;
        this.revisions = revisions;
        this.byKey = new KeyedProfiles(credentials, revisions);
        this.certificates = certificates;
        this.byCertificate = new ByCertificate(credentials, revisions, certificates);
        this.byAccount = new ByAccount(credentials, revisions, certificates);
        this.ways = new Ways(certificates);
    }

    /** What came of it: the profile, and the job that writes the gateway (none for a dry run). */
    public record Outcome(Profiles.Profile profile, Optional<UUID> job) {}

    public Outcome issue(ProfileApi.Issue request, String actor, Instant now) {
        return request.dryRun().orElse(false)
                ? new Outcome(db.rehearse(tx -> issue(tx, request, actor, now)).profile(), Optional.empty())
                : db.inTransaction(tx -> issue(tx, request, actor, now));
    }

    private Outcome issue(Tx tx, ProfileApi.Issue request, String actor, Instant now) {
        People.Person person = People.byHandle(tx, Fields.required("person", request.person()))
                .orElseThrow(() -> new Refused(Refused.Kind.NOT_FOUND, "there is no such person", "person"));
        String deviceName = Fields.required("device", request.device());
        People.Device device = People.devices(tx, List.of(person.id())).stream()
                .filter(d -> d.name().equals(deviceName))
                .findFirst()
                .orElseThrow(
                        () -> new Refused(Refused.Kind.NOT_FOUND, person.handle() + " has no such device", "device"));
        Gateways.Gateway gateway = gateways.byName(tx, Fields.required("gateway", request.gateway()))
                .orElseThrow(() -> new Refused(Refused.Kind.NOT_FOUND, "there is no such gateway", "gateway"));
        Listeners.Listener listener = listener(tx, gateway, request.listener());
        Profiles.present(tx, device.id(), listener.id()).ifPresent(label -> {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    "this device has the profile " + label + " for that listener already; renew or withdraw it",
                    "device");
        });
        Optional<TunnelKey> madeOnDevice =
                request.publicKey().map(text -> Fields.parse("publicKey", text, TunnelKey::parse));
        madeOnDevice.ifPresent(key -> refuseShared(tx, listener, key));
        Sites.Site site = Sites.byId(tx, gateway.siteId()).orElseThrow();
        Grant rule = new Grant.Rules(tx, site, listener).of(person.team());
        Optional<Grant> said = said(request, site, listener, rule);
        Grant granted = said.orElse(rule);
        Optional<Instant> until = granted.until(request.until(), now);
        String label = label(tx, person.handle() + "-" + device.name() + "-" + gateway.name());
        Wanted wanted = new Wanted(
                Optional.of(device.id()),
                label,
                "issued",
                person.handle(),
                device.name(),
                listener,
                madeOnDevice,
                granted.reach(),
                granted.fullTunnel(),
                granted.dns(),
                granted.takesPushed());
        Ways.Way way = ways.of(tx, listener);
        if (way != Ways.Way.KEY && madeOnDevice.isPresent()) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    "a device's own key comes as a request; tender authority sign takes it",
                    "publicKey");
        }
        Outcome outcome = issued(tx, request, wanted, way, until, actor, now);
        said.ifPresent(s -> Profiles.said(tx, outcome.profile().id()));
        request.until().ifPresent(end -> Profiles.endSaid(tx, outcome.profile().id()));
        return outcome;
    }

    /** What was said for this profile alone; empty where the rules of the listener count. */
    private static Optional<Grant> said(
            ProfileApi.Issue request, Sites.Site site, Listeners.Listener listener, Grant rule) {
        Optional<List<Cidr>> reach =
                request.reach().filter(r -> !r.isEmpty()).map(list -> each("reach", list, Cidr::parse));
        List<IpAddress> dns = each("dns", request.dns().orElse(List.of()), IpAddress::parse);
        if (request.fullTunnel().isEmpty() && reach.isEmpty() && dns.isEmpty()) {
            return Optional.empty();
        }
        boolean full = request.fullTunnel().orElse(false);
        return Optional.of(new Grant(
                full || reach.isPresent() || request.fullTunnel().isPresent()
                        ? Planning.reach(full, reach, site, listener)
                        : rule.reach(),
                full,
                dns.isEmpty() ? rule.dns() : dns,
                reach.isEmpty() && request.fullTunnel().isEmpty() && rule.takesPushed(),
                rule.life()));
    }

    private Outcome issued(
            Tx tx,
            ProfileApi.Issue request,
            Wanted wanted,
            Ways.Way way,
            Optional<Instant> until,
            String actor,
            Instant now) {
        Listeners.Listener listener = wanted.listener();
        UUID gatewayId = listener.gatewayId();
        Optional<IpAddress> address = request.address().map(a -> Fields.parse("address", a, IpAddress::parse));
        if (way != Ways.Way.KEY && address.isPresent()) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    "the gateway itself gives addresses to the callers of " + listener.name(),
                    "address");
        }
        return switch (way) {
            case KEY -> {
                Outcome written = write(tx, wanted, address, actor, now);
                until.ifPresent(end -> lives(tx, written.profile().id(), until, now));
                yield written;
            }
            case CERTIFICATE -> {
                Optional<Secret> password =
                        beside(tx, listener, request.makeAccount().orElse(false));
                UUID id = byCertificate.keep(
                        tx, wanted, byCertificate.kind(tx, listener, request.authority()), password, until, actor, now);
                yield password.isPresent() ? delivered(tx, id, gatewayId) : atOnce(tx, id);
            }
            case ACCOUNT -> {
                boolean make = request.makeAccount().orElse(false);
                UUID id = account(
                        tx,
                        wanted,
                        request.account().orElse(make ? wanted.label() : wanted.who()),
                        make,
                        reason(listener, request),
                        actor,
                        now);
                until.ifPresent(end -> lives(tx, id, until, now));
                yield make ? delivered(tx, id, gatewayId) : atOnce(tx, id);
            }
        };
    }

    private UUID account(Tx tx, Wanted wanted, String account, boolean make, String reason, String actor, Instant now) {
        return byAccount.keep(
                tx,
                wanted,
                certificates.facts(tx, wanted.listener()),
                account,
                make ? password() : Optional.empty(),
                reason,
                actor,
                now);
    }

    /** The password of an account that is made beside a certificate, where the listener asks for both and one is wanted. */
    private Optional<Secret> beside(Tx tx, Listeners.Listener listener, boolean make) {
        if (!make) {
            return Optional.empty();
        }
        String kept = certificates.facts(tx, listener).get(Attribute.ACCOUNTS).orElse("none");
        if (!kept.equals("local")) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    kept.equals("none")
                            ? listener.name() + " asks for no account beside the certificate"
                            : listener.name() + " has its accounts in a " + kept + ", where Tender makes none",
                    "makeAccount");
        }
        return password();
    }

    private static Optional<Secret> password() {
        return Optional.of(Passphrase.generate(RANDOM));
    }

    /** Whether a listener asks for an account, of its gateway's own, beside the certificate. */
    private boolean asksBoth(Tx tx, Listeners.Listener listener) {
        return listener.protocol().equals(Protocol.OPENVPN.word())
                && certificates
                        .facts(tx, listener)
                        .is(Attribute.ACCOUNTS, "local"); // reached where certificates are asked
    }

    /** The account is still to be set at the gateway. */
    private static Outcome delivered(Tx tx, UUID profileId, UUID gatewayId) {
        DesiredResources.account(tx, gatewayId, profileId, Presence.PRESENT);
        return new Outcome(
                Profiles.byId(tx, profileId).orElseThrow(), Optional.of(GatewayJobs.reconcile(tx, gatewayId)));
    }

    private static Outcome atOnce(Tx tx, UUID profileId) {
        return new Outcome(Profiles.byId(tx, profileId).orElseThrow(), Optional.empty());
    }

    /** PPTP is broken, so that somebody has to say why it is handed out all the same. */
    private static String reason(Listeners.Listener listener, ProfileApi.Issue request) {
        String reason = request.reason().map(String::strip).orElse("");
        if (listener.protocol().equals(Protocol.PPTP.word()) && reason.isEmpty()) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    "PPTP is broken and is not handed out without a stated reason: --reason 'WHY'",
                    "reason");
        }
        return reason;
    }

    /** What came of issuing to many: labels, the one job that writes the gateway, and those who have one already. */
    public record Many(List<String> issued, Optional<UUID> job, List<String> present) {}

    /** Issues to every device of a team, or of everyone, that has no profile there yet: one transaction, one write at the gateway. */
    public Many issueMany(ProfileApi.IssueMany request, String actor, Instant now) {
        return db.inTransaction(tx -> {
            Gateways.Gateway gateway = gateways.byName(tx, Fields.required("gateway", request.gateway()))
                    .orElseThrow(() -> new Refused(Refused.Kind.NOT_FOUND, "there is no such gateway", "gateway"));
            Listeners.Listener listener = listener(tx, gateway, request.listener());
            Sites.Site site = Sites.byId(tx, gateway.siteId()).orElseThrow();
            Grant.Rules rules = new Grant.Rules(tx, site, listener);
            Map<UUID, People.Person> people = request
                    .team()
                    .map(team -> People.ofTeam(tx, team))
                    .orElseGet(() -> People.page(tx, "", Integer.MAX_VALUE))
                    .stream()
                    .collect(Collectors.toMap(People.Person::id, p -> p));
            Set<UUID> have = Profiles.devicesAt(tx, listener.id());
            Planning.Addresses addresses = new Planning.Addresses(tx, listener);
            Ways.Way way = ways.of(tx, listener);
            if (way == Ways.Way.ACCOUNT && !request.makeAccounts().orElse(false)) {
                throw new Refused(
                        Refused.Kind.CONFLICT,
                        listener.name()
                                + " asks for accounts: let Tender make them (--make-accounts), or tell them one by one: tender profile issue",
                        "listener");
            }
            Optional<ByCertificate.Kind> kind = way == Ways.Way.CERTIFICATE
                    ? Optional.of(byCertificate.kind(tx, listener, Optional.empty()))
                    : Optional.empty();
            boolean both = request.makeAccounts().orElse(false) && asksBoth(tx, listener);
            boolean dryRun = request.dryRun().orElse(false);
            boolean waits = way == Ways.Way.KEY && byHand.peers(tx, gateway.id());
            List<String> issued = new ArrayList<>();
            List<String> present = new ArrayList<>();
            List<People.Device> devices = People.devices(tx, people.keySet());
            if (devices.size() > MAX_MANY) {
                throw new Refused(
                        Refused.Kind.CONFLICT,
                        devices.size() + " devices are more than go in one write, " + MAX_MANY + "; issue team by team",
                        "team");
            }
            for (People.Device d : devices) {
                String label = people.get(d.personId()).handle() + "-" + d.name() + "-" + gateway.name();
                if (have.contains(d.id())) {
                    present.add(label);
                    continue;
                }
                issued.add(label);
                if (dryRun) {
                    continue;
                }
                Grant granted = rules.of(people.get(d.personId()).team());
                Optional<Instant> until = granted.until(request.until(), now);
                Wanted w = new Wanted(
                        Optional.of(d.id()),
                        label,
                        "issued",
                        d.person(),
                        d.name(),
                        listener,
                        Optional.empty(),
                        granted.reach(),
                        granted.fullTunnel(),
                        granted.dns(),
                        granted.takesPushed());
                UUID id;
                if (kind.isPresent()) {
                    id = byCertificate.keep(tx, w, kind.get(), both ? password() : Optional.empty(), until, actor, now);
                    if (both) {
                        DesiredResources.account(tx, gateway.id(), id, Presence.PRESENT);
                    }
                } else if (way == Ways.Way.ACCOUNT) {
                    id = account(tx, w, label, true, "", actor, now);
                    DesiredResources.account(tx, gateway.id(), id, Presence.PRESENT);
                    until.ifPresent(end -> lives(tx, id, until, now));
                } else {
                    id = byKey.keep(tx, w, addresses.next(), actor, now);
                    if (waits) {
                        waits(tx, id, now);
                    }
                    until.ifPresent(end -> lives(tx, id, until, now));
                }
                request.until().ifPresent(end -> Profiles.endSaid(tx, id));
            }
            Optional<UUID> job = issued.isEmpty() || kind.isPresent() && !both || dryRun || waits
                    ? Optional.empty()
                    : Optional.of(GatewayJobs.reconcile(tx, gateway.id()));
            return new Many(issued, job, present);
        });
    }

    static <T> List<T> each(String field, List<String> texts, java.util.function.Function<String, T> parser) {
        Fields.range(field, texts.size(), 0, MAX_NETWORKS);
        return java.util.stream.IntStream.range(0, texts.size())
                .mapToObj(i -> Fields.parse(field + "[" + i + "]", texts.get(i), parser))
                .toList();
    }

    static Listeners.Listener listener(Tx tx, Gateways.Gateway gateway, Optional<String> name) {
        Listeners.Listener meant = ListenerChoice.of(gateway.name(), Listeners.of(tx, List.of(gateway.id())), name);
        return Listeners.locked(tx, meant.id()).orElseThrow();
    }

    /** One key, one device: a key that any living profile or the listener itself uses is refused. */
    private static void refuseShared(Tx tx, Listeners.Listener listener, TunnelKey key) {
        boolean shared = key.toString().equals(listener.publicKey())
                || !Profiles.holders(tx, listener.id(), List.of(key.toString())).isEmpty();
        if (shared) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    "this key is in use already; every device has a key of its own",
                    "publicKey");
        }
    }

    private static String label(Tx tx, String wanted) {
        return Profiles.byLabel(tx, wanted).isEmpty()
                ? wanted
                : wanted + "-" + Ids.next().toString().substring(9, 13);
    }

    private Outcome write(Tx tx, Wanted w, Optional<IpAddress> address, String actor, Instant now) {
        UUID profileId = byKey.keep(tx, w, new Planning.Addresses(tx, w.listener()).next(address), actor, now);
        if (byHand.peers(tx, w.listener().gatewayId())) {
            waits(tx, profileId, now);
            return atOnce(tx, profileId);
        }
        UUID job = GatewayJobs.reconcile(tx, w.listener().gatewayId());
        return new Outcome(Profiles.byId(tx, profileId).orElseThrow(), Optional.of(job));
    }

    private static void waits(Tx tx, UUID profileId, Instant now) {
        DesiredResources.forget(tx, profileId);
        ByHand.admit(
                tx,
                profileId,
                Profiles.byId(tx, profileId).orElseThrow().identity().value(),
                now);
    }

    static void lives(Tx tx, UUID profileId, Optional<Instant> until, Instant now) {
        if (until.filter(end -> !end.isAfter(now)).isPresent()) {
            throw new Refused(Refused.Kind.MALFORMED, "the end lies in the past", "until");
        }
        Credentials.livesUntil(tx, profileId, until);
        until.ifPresent(end -> Ending.order(tx, profileId, now, end));
    }

    /** The listener's canary: a profile of Tender's own, to try a listener without disturbing anyone. Made on first use. */
    public Profiles.Profile canary(UUID listenerId, String actor, Instant now) {
        return db.inTransaction(tx -> {
            Listeners.Listener listener =
                    Listeners.locked(tx, listenerId).orElseThrow(() -> Refused.notFound("listener"));
            return Profiles.canary(tx, listenerId).orElseGet(() -> {
                Gateways.Gateway gateway =
                        gateways.byId(tx, listener.gatewayId()).orElseThrow();
                Sites.Site site = Sites.byId(tx, gateway.siteId()).orElseThrow();
                String label = label(tx, "canary-" + gateway.name() + "-" + listener.name());
                Wanted wanted = new Wanted(
                        Optional.empty(),
                        label,
                        "canary",
                        "canary",
                        listener.name(),
                        listener,
                        Optional.empty(),
                        Planning.reach(false, Optional.empty(), site, listener),
                        false,
                        List.of(),
                        true);
                return switch (ways.of(tx, listener)) {
                    case KEY -> write(tx, wanted, Optional.empty(), actor, now).profile();
                    case CERTIFICATE -> {
                        boolean both = asksBoth(tx, listener);
                        UUID id = byCertificate.keep(
                                tx,
                                wanted,
                                byCertificate.kind(tx, listener, Optional.empty()),
                                both ? password() : Optional.empty(),
                                Optional.empty(),
                                actor,
                                now);
                        yield (both ? delivered(tx, id, gateway.id()) : atOnce(tx, id)).profile();
                    }
                    case ACCOUNT ->
                        delivered(tx, account(tx, wanted, label, true, "", actor, now), gateway.id())
                                .profile();
                };
            });
        });
    }

    static Profiles.Profile ready(Tx tx, UUID profileId) {
        return in(tx, profileId, Set.of(ProfileState.READY));
    }

    private static Profiles.Profile in(Tx tx, UUID profileId, Set<ProfileState> states) {
        Profiles.Profile p = Profiles.byId(tx, profileId).orElseThrow(() -> Refused.notFound("profile"));
        if (!states.contains(p.state())) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    p.label() + " is " + p.state().word()
                            + p.problem().map(w -> ": " + w).orElse(""));
        }
        return p;
    }

    /** Ends a profile: its handouts are withdrawn, its credentials revoked and erased, its peer removed from the gateway. */
    public Outcome withdraw(UUID profileId, String actor, Instant now) {
        return db.inTransaction(tx -> {
            Profiles.Profile p = Profiles.byId(tx, profileId)
                    .filter(q ->
                            q.state() == ProfileState.WITHDRAWING && q.problem().isPresent()
                                    || q.state() == ProfileState.WAITING
                                    || q.state() == ProfileState.FAILED)
                    .orElseGet(() -> ready(tx, profileId));
            Listeners.Listener listener = Listeners.byId(tx, p.listenerId()).orElseThrow();
            Optional<ForeignCertificates.Foreign> certificate = foreign.of(tx, p);
            Handouts.withdrawOf(tx, profileId, now);
            credentials.revokeOf(tx, profileId);
            Profiles.move(
                    tx,
                    List.of(profileId),
                    Set.of(ProfileState.READY, ProfileState.WITHDRAWING, ProfileState.WAITING, ProfileState.FAILED),
                    ProfileState.WITHDRAWING,
                    Optional.empty());
            Journal.append(tx, now, actor, "profile-withdrawn", "profile", profileId.toString(), "");
            Optional<UUID> job = p.state() == ProfileState.FAILED
                    ? over(tx, profileId)
                    : removed(tx, p, listener, certificate, actor, now);
            Events.say(tx, "profile", profileId.toString());
            return new Outcome(Profiles.byId(tx, profileId).orElseThrow(), job);
        });
    }

    /** Nothing of it was ever let in, so that nothing is left to be closed. */
    private static Optional<UUID> over(Tx tx, UUID profileId) {
        Profiles.move(
                tx, List.of(profileId), Set.of(ProfileState.WITHDRAWING), ProfileState.WITHDRAWN, Optional.empty());
        Profiles.release(tx, List.of(profileId));
        return Optional.empty();
    }

    /** What takes a withdrawn profile out of the gateway: a job, or an instruction for somebody where Tender cannot. */
    private Optional<UUID> removed(
            Tx tx,
            Profiles.Profile p,
            Listeners.Listener listener,
            Optional<ForeignCertificates.Foreign> certificate,
            String actor,
            Instant now) {
        UUID gatewayId = listener.gatewayId();
        switch (ways.of(tx, listener)) {
            case KEY -> {
                if (byHand.peers(tx, gatewayId)) {
                    ByHand.close(tx, p.id(), HandWork.CLOSE_PEER, p.identity().value(), actor, now);
                    return Optional.empty();
                }
                DesiredResources.peer(tx, gatewayId, listener.id(), p.id(), Presence.ABSENT);
                return Optional.of(GatewayJobs.reconcile(tx, gatewayId));
            }
            case CERTIFICATE -> {
                return revoked(tx, p, listener, certificate, actor, now);
            }
            case ACCOUNT -> {
                if (isOurAccount(p)) {
                    DesiredResources.account(tx, gatewayId, p.id(), Presence.ABSENT);
                    return Optional.of(GatewayJobs.reconcile(tx, gatewayId));
                }
                ByHand.close(tx, p.id(), HandWork.CLOSE_ACCOUNT, p.identity().value(), actor, now);
                return Optional.empty();
            }
        }
        throw new IllegalStateException("every way is one of three");
    }

    private Optional<UUID> revoked(
            Tx tx,
            Profiles.Profile p,
            Listeners.Listener listener,
            Optional<ForeignCertificates.Foreign> certificate,
            String actor,
            Instant now) {
        if (certificate.isPresent() && !certificate.get().ours()) {
            ByHand.close(
                    tx, p.id(), HandWork.CLOSE_CERTIFICATE, certificate.get().serial(), actor, now);
            return Optional.empty();
        }
        Optional<String> serial = certificate
                .map(ForeignCertificates.Foreign::serial)
                .or(() -> Certificates.ofProfile(tx, p.id()).map(Certificates.Certificate::serial));
        if (certificate.isPresent()) {
            foreign.revoke(tx, certificate.get(), p.label(), now);
        } else {
            byCertificate.revoke(tx, p.id(), now);
        }
        if (serial.isPresent() && byHand.everything(tx, listener.gatewayId())) {
            ByHand.close(tx, p.id(), HandWork.UPLOAD_LIST, serial.get(), actor, now);
            return Optional.empty();
        }
        boolean told = listener.protocol().equals(Protocol.OPENVPN.word())
                || certificates.facts(tx, listener).get(Attribute.AUTHORITY).isPresent();
        if (!told) {
            ByHand.close(tx, p.id(), HandWork.UPLOAD_LIST, serial.orElse(p.label()), actor, now);
            return Optional.empty();
        }
        DesiredResources.revocationLists(tx, listener.gatewayId());
        if (p.account().isPresent() && byHand.accountsAreWritten(tx, listener.gatewayId())) {
            DesiredResources.account(tx, listener.gatewayId(), p.id(), Presence.ABSENT);
        }
        return Optional.of(GatewayJobs.reconcile(tx, listener.gatewayId()));
    }

    /** Whether a profile signs in with an account that Tender made. */
    static boolean isOurAccount(Profiles.Profile p) {
        return p.custody() == Custody.HELD || p.custody() == Custody.ERASED;
    }

    /** What somebody has to do by hand for a profile, with the peer's text where one is to be added. */
    public ProfileApi.HandWork handWork(UUID profileId, String actor, Instant now) {
        return db.inTransaction(tx -> {
            Instructions.Instruction i = Instructions.of(tx, profileId)
                    .orElseThrow(() -> Refused.notFound("instruction: nothing is to be done by hand for it"));
            if (i.kind() != HandWork.ADMIT_PEER) {
                return new ProfileApi.HandWork(i.words(), Optional.empty());
            }
            Profiles.Profile p = Profiles.byId(tx, profileId).orElseThrow();
            Journal.append(tx, now, actor, "peer-text-shown", "profile", profileId.toString(), "");
            return new ProfileApi.HandWork(
                    i.words(),
                    Optional.of(Secret.of(ClientProfile.gatewaySection(
                            p.label(),
                            TunnelKey.parse(p.identity().value()),
                            p.presharedId().flatMap(id -> credentials.secret(tx, id)),
                            p.addresses().stream().map(Cidr::host).toList()))));
        });
    }

    /** The newest revision of a ready profile with its text, for handing out or trying. */
    public record Newest(Profiles.Profile profile, Revisions.Revision revision, Secret content) {}

    public Newest newest(UUID profileId) {
        return db.inTransaction(tx -> chosen(tx, ready(tx, profileId), Optional.empty()));
    }

    /** The same of a profile that may still wait for somebody at the gateway: a trial shows whether they have done it. */
    public Newest triable(UUID profileId) {
        return db.inTransaction(tx -> chosen(tx, in(tx, profileId, TRIABLE), Optional.empty()));
    }

    /** An account at a gateway. */
    public record Account(String name, Secret password) {}

    /** A profile's account, where Tender made it. */
    public Optional<Account> account(Profiles.Profile p) {
        return p.account()
                .flatMap(a -> db.inTransaction(tx -> credentials.secret(tx, a.credentialId()))
                        .map(password -> new Account(a.name(), password)));
    }

    /** Any revision of a profile in any state, to look at; the newest where no number is given. */
    public Newest revision(UUID profileId, Optional<Integer> number) {
        return db.inTransaction(
                tx -> chosen(tx, Profiles.byId(tx, profileId).orElseThrow(() -> Refused.notFound("profile")), number));
    }

    private Newest chosen(Tx tx, Profiles.Profile p, Optional<Integer> number) {
        Revisions.Revision revision = Revisions.of(tx, p.id()).stream()
                .filter(r -> number.isEmpty() || r.number() == number.get())
                .findFirst()
                .orElseThrow(() -> Refused.notFound("revision"));
        return new Newest(
                p,
                revision,
                revisions
                        .content(tx, revision.id())
                        .orElseThrow(
                                () -> new Refused(
                                        Refused.Kind.CONFLICT,
                                        "the file of " + p.label()
                                                + " was erased with its key after it was collected; issue another profile where it is lost")));
    }
}
