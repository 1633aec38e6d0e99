package tender.service.profile;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.core.network.Cidr;
import tender.service.refusal.Refused;
import tender.store.certificate.Authorities;
import tender.store.certificate.Certificates;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.office.Sites;
import tender.store.profile.ProfileGrants;
import tender.store.profile.ProfileOrigin;
import tender.store.profile.ProfileState;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;

/** Tender's own profiles, one a listener, to try it without disturbing anyone. Each fits its listener as it is now. */
public final class Canaries {
    private static final Duration AHEAD = Duration.ofDays(2);

    private final Db db;
    private final Gateways gateways;
    private final ProfileKinds kinds;
    private final Renewing renewing;

    Canaries(Db db, Gateways gateways, ProfileKinds kinds, Renewing renewing) {
        this.db = db;
        this.gateways = gateways;
        this.kinds = kinds;
        this.renewing = renewing;
    }

    /** Made on first use; gets a new revision where what its file depends on has changed, or where it ends soon. */
    public Profiles.Profile of(UUID listenerId, By by) {
        Profiles.Profile canary = db.inTransaction(tx -> made(tx, listenerId, by));
        return db.<Boolean>inTransaction(tx -> fits(tx, canary, by.at()))
                ? canary
                : renewing.renew(canary.id(), anew(canary, by.at()), By.tender(by.at()));
    }

    private Profiles.Profile made(Tx tx, UUID listenerId, By by) {
        Listeners.Listener listener = Listeners.locked(tx, listenerId).orElseThrow(() -> Refused.notFound("listener"));
        Optional<Profiles.Profile> there = Profiles.canary(tx, listenerId);
        if (there.isPresent()) {
            return there.get();
        }
        Sites.Site site = site(tx, listener);
        ProfilePlan wanted = new ProfilePlan(
                Optional.empty(),
                ProfileMaker.label(tx, "canary-" + listener.gateway() + "-" + listener.name()),
                ProfileOrigin.CANARY,
                "canary",
                listener.name(),
                listener,
                Optional.empty(),
                Planning.reach(false, Optional.empty(), site, listener),
                false,
                List.of(),
                true);
        ProfileMaker maker = new ProfileMaker(tx, kinds, listener, by);
        boolean account = maker.way() == AuthenticationMethods.AuthenticationMethod.ACCOUNT
                || maker.way() == AuthenticationMethods.AuthenticationMethod.CERTIFICATE
                        && kinds.asksBoth(tx, listener);
        UUID id = maker.make(wanted, IssueOrder.Access.usual(account), Optional.empty());
        maker.order();
        return Profiles.byId(tx, id).orElseThrow();
    }

    private Sites.Site site(Tx tx, Listeners.Listener listener) {
        return gateways.byId(tx, listener.gatewayId())
                .flatMap(g -> Sites.byId(tx, g.siteId()))
                .orElseThrow();
    }

    /** One for the listener as it is now, whatever was known of it before. */
    public Profiles.Profile afresh(UUID canaryId, Instant now) {
        return renewing.renew(canaryId, RenewOrder.AS_IT_IS, By.tender(now));
    }

    private boolean fits(Tx tx, Profiles.Profile canary, Instant now) {
        if (canary.state() != ProfileState.READY) {
            return true; // it was made this moment, or nothing can be made of it
        }
        Listeners.Listener listener = Listeners.byId(tx, canary.listenerId()).orElseThrow();
        Sites.Site site = site(tx, listener);
        List<Cidr> reach = Planning.reach(false, Optional.empty(), site, listener);
        if (!canary.reach().equals(reach)) {
            ProfileGrants.grant(tx, canary.id(), reach, false, canary.dns(), true);
            return false;
        }
        Map<String, String> madeFor = Revisions.of(tx, canary.id()).stream()
                .findFirst()
                .map(Revisions.Revision::madeFor)
                .orElse(Map.of());
        return madeFor.equals(renewing.madeFor(tx, listener, reach)) && !endsSoon(tx, canary, now);
    }

    private static boolean endsSoon(Tx tx, Profiles.Profile canary, Instant now) {
        return Certificates.ofProfile(tx, canary.id())
                .filter(c ->
                        c.ends().isBefore(now.plus(AHEAD)) && end(tx, c, now).isAfter(c.ends()))
                .isPresent();
    }

    /** A new certificate only where it counts longer than the present one. */
    private RenewOrder anew(Profiles.Profile canary, Instant now) {
        Optional<Instant> until = db.inTransaction(tx -> endsSoon(tx, canary, now)
                ? Certificates.ofProfile(tx, canary.id()).map(c -> end(tx, c, now))
                : Optional.empty());
        return new RenewOrder(Optional.empty(), until);
    }

    private static Instant end(Tx tx, Certificates.Certificate c, Instant now) {
        return OpenVpnProfiles.usualEnd(
                Authorities.byId(tx, c.authorityId()).orElseThrow().ends(), now);
    }
}
