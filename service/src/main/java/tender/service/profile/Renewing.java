package tender.service.profile;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.api.ProfileApi;
import tender.core.credential.Custody;
import tender.core.credential.Secret;
import tender.core.network.Cidr;
import tender.core.wire.Sha256;
import tender.service.gateway.GatewayJobs;
import tender.service.refusal.Refused;
import tender.store.credential.Credentials;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.office.Sites;
import tender.store.person.People;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;
import tender.store.reconcile.DesiredResources;
import tender.store.reconcile.DesiredResources.Presence;

/** New revisions of profiles: for the listener as it is now, with another end, or as the rules for their holders say now. */
public final class Renewing {
    private static final String TENDER = "tender"; // itself, and nobody who said anything

    private final Db db;
    private final Gateways gateways;
    private final Credentials credentials;
    private final CertificateProfiles certificates;
    private final KeyedProfiles byKey;
    private final ByCertificate byCertificate;
    private final ByAccount byAccount;
    private final Ways ways;
    private final ByHand byHand;

    public Renewing(
            Db db,
            Gateways gateways,
            Credentials credentials,
            Revisions revisions,
            CertificateProfiles certificates,
            ByHand byHand) {
        this.db = db;
        this.byHand = byHand;
        this.gateways = gateways;
        this.credentials = credentials;
        this.certificates = certificates;
        this.byKey = new KeyedProfiles(credentials, revisions);
        this.byCertificate = new ByCertificate(credentials, revisions, certificates);
        this.byAccount = new ByAccount(credentials, revisions, certificates);
        this.ways = new Ways(certificates);
    }

    /**
     * A new revision for the listener as it is now, with the same keys; moved to a listener side by side with its own, where
     * its keys are known too, or with another end, where the request says so. A peer that had left at its end comes back.
     */
    public Profiles.Profile renew(UUID profileId, ProfileApi.Renew request, String actor, Instant now) {
        return db.inTransaction(tx -> {
            request.to().ifPresent(name -> move(tx, Issuing.ready(tx, profileId), name));
            request.until().filter(end -> !actor.equals(TENDER)).ifPresent(end -> Profiles.endSaid(tx, profileId));
            Listeners.Listener listener = Listeners.byId(
                            tx, Issuing.ready(tx, profileId).listenerId())
                    .orElseThrow();
            Profiles.Profile p = byRule(tx, Issuing.ready(tx, profileId), listener);
            Ways.Way way = ways.of(tx, listener);
            if (way != Ways.Way.KEY) {
                int next = p.revision() + 1;
                String text;
                if (way == Ways.Way.CERTIFICATE) {
                    text = byCertificate.renew(tx, p, listener, request.until(), next, now);
                } else {
                    text = byAccount.renew(tx, p, listener, certificates.facts(tx, listener), next, now);
                    if (request.until().isPresent()) {
                        Issuing.lives(tx, profileId, request.until(), now);
                        accountBack(tx, p, listener);
                    }
                }
                renewed(tx, profileId, next, text, actor, now);
                return Profiles.byId(tx, profileId).orElseThrow();
            }
            if (p.custody() == Custody.ERASED) {
                throw new Refused(
                        Refused.Kind.CONFLICT,
                        "the key of " + p.label()
                                + " was erased after it was collected; issue another profile instead");
            }
            boolean ended = Credentials.isExpired(tx, profileId);
            if (request.until().isPresent() || ended) {
                Issuing.lives(tx, profileId, request.until(), now);
            }
            if (ended && byHand.peers(tx, listener.gatewayId())) {
                ByHand.admit(tx, profileId, p.identity().value(), now);
            } else if (ended) {
                DesiredResources.peer(tx, listener.gatewayId(), listener.id(), profileId, Presence.PRESENT);
                GatewayJobs.reconcile(tx, listener.gatewayId());
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
            byKey.revision(tx, profileId, number, Stems.of(tx, p), listener, reach, text, now);
            renewed(tx, profileId, number, text, actor, now);
            return Profiles.byId(tx, profileId).orElseThrow();
        });
    }

    /** The settings that a file for a listener depends on now, by the words of attributes. */
    Map<String, String> madeFor(Tx tx, Listeners.Listener listener, List<Cidr> reach) {
        return switch (ways.of(tx, listener)) {
            case KEY -> Planning.madeFor(listener, reach);
            case CERTIFICATE ->
                byCertificate.kind(tx, listener, Optional.empty()).madeFor(reach);
            case ACCOUNT -> byAccount.madeFor(tx, listener, certificates.facts(tx, listener), reach);
        };
    }

    /** Takes up what the rules of the listener give its holder now, where nobody said anything else for it. */
    private Profiles.Profile byRule(Tx tx, Profiles.Profile p, Listeners.Listener listener) {
        if (p.deviceId().isEmpty() || !Profiles.follows(tx, p.id())) {
            return p;
        }
        Gateways.Gateway gateway = gateways.byId(tx, listener.gatewayId()).orElseThrow();
        Optional<String> team = p.personId().flatMap(id -> People.byId(tx, id)).flatMap(People.Person::team);
        Grant granted = new Grant.Rules(tx, Sites.byId(tx, gateway.siteId()).orElseThrow(), listener).of(team);
        if (granted.isIn(p)) {
            return p;
        }
        Profiles.grant(tx, p.id(), granted.reach(), granted.fullTunnel(), granted.dns(), granted.takesPushed());
        return Profiles.byId(tx, p.id()).orElseThrow();
    }

    /** The profiles of a team at a listener that are not yet as its rules are now. */
    public List<Profiles.Profile> behind(UUID listenerId, String team) {
        return db.inTransaction(tx -> {
            Listeners.Listener listener =
                    Listeners.byId(tx, listenerId).orElseThrow(() -> Refused.notFound("listener"));
            Gateways.Gateway gateway = gateways.byId(tx, listener.gatewayId()).orElseThrow();
            Grant granted =
                    new Grant.Rules(tx, Sites.byId(tx, gateway.siteId()).orElseThrow(), listener).of(Optional.of(team));
            return Profiles.following(tx, listenerId, team).stream()
                    .filter(p -> !granted.isIn(p))
                    .toList();
        });
    }

    /** An account that had left at its end comes back. */
    private static void accountBack(Tx tx, Profiles.Profile p, Listeners.Listener listener) {
        if (Issuing.isOurAccount(p)) {
            DesiredResources.account(tx, listener.gatewayId(), p.id(), Presence.PRESENT);
            GatewayJobs.reconcile(tx, listener.gatewayId());
        }
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
                "revision " + number + ", " + Sha256.hex(text));
    }

    private static void move(Tx tx, Profiles.Profile p, String name) {
        Listeners.Listener from = Listeners.byId(tx, p.listenerId()).orElseThrow();
        Listeners.Listener to = Listeners.of(tx, List.of(p.gatewayId())).stream()
                .filter(l -> l.name().equals(name) && !l.gone())
                .findFirst()
                .orElseThrow(() ->
                        new Refused(Refused.Kind.NOT_FOUND, p.gateway() + " has no listener " + name, "listener"));
        boolean beside = to.tunnels().equals(from.tunnels()) && to.publicKey().equals(from.publicKey());
        if (!beside && !from.id().equals(to.id())) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    name + " is not side by side with " + from.name() + ": issue a new profile there instead",
                    "listener");
        }
        Profiles.moveListener(tx, p.id(), to.id());
    }
}
