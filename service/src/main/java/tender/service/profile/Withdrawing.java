package tender.service.profile;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.core.credential.Custody;
import tender.core.office.Attribute;
import tender.core.office.HandWork;
import tender.core.office.Protocol;
import tender.service.gateway.GatewayJobs;
import tender.store.certificate.Certificates;
import tender.store.credential.Credentials;
import tender.store.event.Events;
import tender.store.handout.Handouts;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Listeners;
import tender.store.profile.ProfileState;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;
import tender.store.reconcile.DesiredResources;
import tender.store.reconcile.DesiredResources.Presence;

/** Ends profiles in the records, and says what is to leave the gateway, or what somebody has to close there. */
public final class Withdrawing {
    private final Db db;
    private final Credentials credentials;
    private final ProfileKinds kinds;
    private final ForeignCertificates foreign;

    Withdrawing(Db db, Credentials credentials, Revisions revisions, ProfileKinds kinds) {
        this.db = db;
        this.credentials = credentials;
        this.kinds = kinds;
        this.foreign = new ForeignCertificates(revisions, kinds.certificates);
    }

    /** Ends a profile: its handouts are withdrawn, its credentials revoked and erased, its peer removed from the gateway. */
    Outcome withdraw(UUID profileId, By by) {
        return db.inTransaction(tx -> withdraw(tx, profileId, false, by));
    }

    /**
     * The same in a transaction; what is held of its credentials stays until a trial has shown that it is refused.
     *
     * @throws Refused where it is being written
     */
    public void withdrawToBeShown(Tx tx, UUID profileId, By by) {
        withdraw(tx, profileId, true, by);
    }

    /** How a profile ends at its gateway, in words. */
    public String words(Tx tx, Profiles.Profile p) {
        Listeners.Listener listener = Listeners.byId(tx, p.listenerId()).orElseThrow();
        UUID gatewayId = listener.gatewayId();
        return switch (kinds.way(tx, listener)) {
            case KEY ->
                kinds.byHand.peers(tx, gatewayId) ? "by hand: remove the peer" : "its peer is removed from the gateway";
            case ACCOUNT ->
                isOurAccount(p) && kinds.byHand.accountsAreWritten(tx, gatewayId)
                        ? "its account is removed from the gateway"
                        : "by hand: close the account " + p.identity().value();
            case CERTIFICATE ->
                foreign.of(tx, p).filter(f -> !f.ours()).isPresent()
                        ? "by hand: revoke the certificate on the gateway"
                        : kinds.byHand.everything(tx, gatewayId)
                                ? "its certificate is revoked; by hand: upload the revocation list"
                                : "its certificate is revoked and the list delivered";
        };
    }

    private Outcome withdraw(Tx tx, UUID profileId, boolean toBeShown, By by) {
        Profiles.Profile p = Profiles.byId(tx, profileId)
                .filter(q ->
                        q.state() == ProfileState.WITHDRAWING && q.problem().isPresent()
                                || q.state() == ProfileState.WAITING
                                || q.state() == ProfileState.FAILED)
                .orElseGet(() -> ProfileFiles.ready(tx, profileId));
        Listeners.Listener listener = Listeners.byId(tx, p.listenerId()).orElseThrow();
        Optional<ForeignCertificates.Foreign> certificate = foreign.of(tx, p);
        Handouts.withdrawOf(tx, profileId, by.at());
        boolean shownByHand = isOurAccount(p)
                && p.account().isPresent()
                && !kinds.byHand.accountsAreWritten(tx, listener.gatewayId());
        if (toBeShown || shownByHand) {
            Credentials.revokedOf(tx, profileId); // its password shows that it is refused
        } else {
            credentials.revokeOf(tx, profileId);
        }
        Profiles.move(
                tx,
                List.of(profileId),
                Set.of(ProfileState.READY, ProfileState.WITHDRAWING, ProfileState.WAITING, ProfileState.FAILED),
                ProfileState.WITHDRAWING,
                Optional.empty());
        Journal.append(tx, by, "profile-withdrawn", "profile", profileId, "");
        Optional<UUID> job =
                p.state() == ProfileState.FAILED ? over(tx, profileId) : removed(tx, p, listener, certificate, by);
        Events.say(tx, "profile", profileId);
        return new Outcome(Profiles.byId(tx, profileId).orElseThrow(), job);
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
            By by) {
        UUID gatewayId = listener.gatewayId();
        switch (kinds.way(tx, listener)) {
            case KEY -> {
                if (kinds.byHand.peers(tx, gatewayId)) {
                    ByHand.close(tx, p.id(), HandWork.CLOSE_PEER, p.identity().value(), by);
                    return Optional.empty();
                }
                DesiredResources.peer(tx, gatewayId, listener.id(), p.id(), Presence.ABSENT);
                return Optional.of(GatewayJobs.reconcile(tx, gatewayId));
            }
            case CERTIFICATE -> {
                return revoked(tx, p, listener, certificate, by);
            }
            case ACCOUNT -> {
                if (isOurAccount(p) && kinds.byHand.accountsAreWritten(tx, gatewayId)) {
                    DesiredResources.account(tx, gatewayId, p.id(), Presence.ABSENT);
                    return Optional.of(GatewayJobs.reconcile(tx, gatewayId));
                }
                ByHand.close(tx, p.id(), HandWork.CLOSE_ACCOUNT, p.identity().value(), by);
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
            By by) {
        if (certificate.isPresent() && !certificate.get().ours()) {
            ByHand.close(
                    tx, p.id(), HandWork.CLOSE_CERTIFICATE, certificate.get().serial(), by);
            return Optional.empty();
        }
        Optional<String> serial = certificate
                .map(ForeignCertificates.Foreign::serial)
                .or(() -> Certificates.ofProfile(tx, p.id()).map(Certificates.Certificate::serial));
        if (certificate.isPresent()) {
            foreign.revoke(tx, certificate.get(), p.label(), by.at());
        } else {
            kinds.byCertificate.revoke(tx, p.id(), by.at());
        }
        if (serial.isPresent() && kinds.byHand.everything(tx, listener.gatewayId())) {
            ByHand.close(tx, p.id(), HandWork.UPLOAD_LIST, serial.get(), by);
            return Optional.empty();
        }
        boolean told = listener.protocol().equals(Protocol.OPENVPN.word())
                || kinds.certificates
                        .facts(tx, listener)
                        .get(Attribute.AUTHORITY)
                        .isPresent();
        if (!told) {
            ByHand.close(tx, p.id(), HandWork.UPLOAD_LIST, serial.orElse(p.label()), by);
            return Optional.empty();
        }
        DesiredResources.revocationLists(tx, listener.gatewayId());
        if (p.account().isPresent() && kinds.byHand.accountsAreWritten(tx, listener.gatewayId())) {
            DesiredResources.account(tx, listener.gatewayId(), p.id(), Presence.ABSENT);
        }
        return Optional.of(GatewayJobs.reconcile(tx, listener.gatewayId()));
    }

    /** Whether a profile signs in with an account that Tender made. */
    static boolean isOurAccount(Profiles.Profile p) {
        return p.custody() == Custody.HELD || p.custody() == Custody.ERASED;
    }
}
