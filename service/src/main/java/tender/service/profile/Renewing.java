package tender.service.profile;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.Custody;
import tender.core.network.Cidr;
import tender.core.office.HandWork;
import tender.core.wire.Sha256;
import tender.service.gateway.GatewayJobs;
import tender.service.refusal.Refused;
import tender.store.credential.Credentials;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.office.Sites;
import tender.store.person.People;
import tender.store.profile.ProfileGrants;
import tender.store.profile.Profiles;
import tender.store.reconcile.DesiredResources;
import tender.store.reconcile.DesiredResources.Presence;

/** New revisions of profiles: for the listener as it is now, with another end, or as the grants of their users say now. */
final class Renewing {
    private static final String TENDER = "tender"; // itself, and nobody who said anything

    private final Db db;
    private final Gateways gateways;
    private final Credentials credentials;
    private final ProfileKinds kinds;

    Renewing(Db db, Gateways gateways, Credentials credentials, ProfileKinds kinds) {
        this.db = db;
        this.gateways = gateways;
        this.credentials = credentials;
        this.kinds = kinds;
    }

    /**
     * A new revision for the listener as it is now, with the same keys; moved to a listener side by side with its own, where
     * its keys are known too, or with another end, where the request says so. A peer that had left at its end comes back.
     */
    Profiles.Profile renew(UUID profileId, RenewOrder order, By by) {
        return db.inTransaction(tx -> {
            order.to().ifPresent(name -> move(tx, ProfileFiles.ready(tx, profileId), name));
            order.until()
                    .filter(end -> !by.actor().equals(TENDER))
                    .ifPresent(end -> ProfileGrants.expiryExplicit(tx, profileId));
            Profiles.Profile before = ProfileFiles.ready(tx, profileId);
            Listeners.Listener listener =
                    Listeners.byId(tx, before.listenerId()).orElseThrow();
            Profiles.Profile p = byRule(tx, before, listener);
            Renewal renewal = new Renewal(p, listener, order.until(), Edition.next(tx, p, by.at()));
            String text = switch (kinds.way(tx, listener)) {
                case KEY -> byKey(tx, renewal);
                case CERTIFICATE -> kinds.byCertificate.renew(tx, renewal);
                case ACCOUNT -> byAccount(tx, renewal);
            };
            renewed(tx, renewal.edition(), text, by);
            return Profiles.byId(tx, profileId).orElseThrow();
        });
    }

    private String byAccount(Tx tx, Renewal r) {
        String text = kinds.byAccount.renew(tx, r, kinds.certificates.facts(tx, r.listener()));
        if (r.until().isPresent()) {
            ProfileExpiry.set(tx, r.profile().id(), r.until(), r.now());
            accountBack(tx, r.profile(), r.listener());
        }
        return text;
    }

    private void livesOn(Tx tx, Renewal r) {
        boolean ended = Credentials.isExpired(tx, r.profile().id());
        if (r.until().isPresent() || ended) {
            ProfileExpiry.set(tx, r.profile().id(), r.until(), r.now());
        }
        if (ended) {
            peerBack(tx, r);
        }
    }

    private String byKey(Tx tx, Renewal r) {
        Profiles.Profile p = r.profile();
        if (p.custody() == Custody.ERASED) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    "the key of " + p.label() + " was erased after it was collected; issue another profile instead");
        }
        livesOn(tx, r);
        String text = Planning.text(
                r.edition().title(),
                credentials.secret(tx, p.keyId()),
                p.presharedId().flatMap(id -> credentials.secret(tx, id)),
                r.listener(),
                p.addresses(),
                p.reach(),
                p.dns());
        return kinds.byKey.renew(tx, r, text);
    }

    /** A peer that had left at its end comes back. */
    private void peerBack(Tx tx, Renewal r) {
        Profiles.Profile p = r.profile();
        Listeners.Listener listener = r.listener();
        if (kinds.byHand.peers(tx, listener.gatewayId())) {
            ByHand.admit(tx, p.id(), HandWork.ADMIT_PEER, p.identity().value(), r.now());
        } else {
            DesiredResources.peer(tx, listener.gatewayId(), listener.id(), p.id(), Presence.PRESENT);
            GatewayJobs.reconcile(tx, listener.gatewayId());
        }
    }

    /** The settings that a file for a listener depends on now, by the words of attributes. */
    Map<String, String> madeFor(Tx tx, Listeners.Listener listener, List<Cidr> reach) {
        return switch (kinds.way(tx, listener)) {
            case KEY -> Planning.madeFor(listener, reach);
            case CERTIFICATE ->
                kinds.byCertificate.kind(tx, listener, Optional.empty()).madeFor(reach);
            case ACCOUNT -> kinds.byAccount.madeFor(tx, listener, kinds.certificates.facts(tx, listener), reach);
        };
    }

    /** Applies what the grants of the listener give its user now, where nobody set anything else for it. */
    private Profiles.Profile byRule(Tx tx, Profiles.Profile p, Listeners.Listener listener) {
        if (p.deviceId().isEmpty() || !ProfileGrants.follows(tx, p.id())) {
            return p;
        }
        Gateways.Gateway gateway = gateways.byId(tx, listener.gatewayId()).orElseThrow();
        Optional<String> team = p.personId().flatMap(id -> People.byId(tx, id)).flatMap(People.Person::team);
        Grant granted = new Grant.Rules(tx, Sites.byId(tx, gateway.siteId()).orElseThrow(), listener).of(team);
        if (granted.isIn(p)) {
            return p;
        }
        ProfileGrants.grant(tx, p.id(), granted.reach(), granted.fullTunnel(), granted.dns(), granted.takesPushed());
        return Profiles.byId(tx, p.id()).orElseThrow();
    }

    /** The profiles of a team at a listener that are not yet as its rules are now. */
    List<Profiles.Profile> behind(UUID listenerId, String team) {
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
        if (Withdrawing.isOurAccount(p)) {
            DesiredResources.account(tx, listener.gatewayId(), p.id(), Presence.PRESENT);
            GatewayJobs.reconcile(tx, listener.gatewayId());
        }
    }

    private static void renewed(Tx tx, Edition e, String text, By by) {
        Events.say(tx, "profile", e.profileId());
        Journal.append(
                tx,
                by,
                "profile-renewed",
                "profile",
                e.profileId(),
                "revision " + e.number() + ", " + Sha256.hex(text));
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
