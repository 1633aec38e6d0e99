package tender.service.profile;

import java.security.SecureRandom;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.Passphrase;
import tender.core.credential.Secret;
import tender.core.office.HandWork;
import tender.service.gateway.GatewayJobs;
import tender.service.refusal.Refused;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.office.Listeners;
import tender.store.profile.Profiles;
import tender.store.reconcile.DesiredResources;
import tender.store.reconcile.DesiredResources.Presence;

/**
 * Makes profiles at one listener in one transaction, and says what is wanted at its gateway for them. What is the same for all
 * of them is looked at once. The listener is locked until the transaction ends.
 */
final class ProfileMaker {
    private static final SecureRandom RANDOM = new SecureRandom();

    private final Tx tx;
    private final ProfileKinds kinds;
    private final Listeners.Listener listener;
    private final AuthenticationMethods.AuthenticationMethod way;
    private final By by;
    private Planning.Addresses addresses;
    private CertificateProfiles.Kind certificate;
    private boolean isWritten;

    ProfileMaker(Tx tx, ProfileKinds kinds, Listeners.Listener listener, By by) {
        this.tx = tx;
        this.kinds = kinds;
        this.listener = listener;
        this.way = kinds.way(tx, listener);
        this.by = by;
    }

    AuthenticationMethods.AuthenticationMethod way() {
        return way;
    }

    /** A label that nothing else has. */
    static String label(Tx tx, String wanted) {
        return Profiles.byLabel(tx, wanted).isEmpty()
                ? wanted
                : wanted + "-" + Ids.next().toString().substring(9, 13);
    }

    /**
     * Gives the profile's id.
     *
     * @param ends of access; empty: as long as its kind lives
     * @throws Refused where what is wanted does not fit the listener
     */
    UUID make(ProfilePlan wanted, IssueOrder.Access access, Optional<Instant> ends) {
        if (way != AuthenticationMethods.AuthenticationMethod.KEY
                && access.address().isPresent()) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    "the gateway itself gives addresses to the callers of " + listener.name(),
                    "address");
        }
        return switch (way) {
            case KEY -> key(wanted, access, ends);
            case CERTIFICATE -> certificate(wanted, access, ends);
            case ACCOUNT -> account(wanted, access, ends);
        };
    }

    private UUID key(ProfilePlan wanted, IssueOrder.Access access, Optional<Instant> ends) {
        if (addresses == null) {
            addresses = new Planning.Addresses(tx, listener);
        }
        UUID id = kinds.byKey.keep(tx, wanted, addresses.next(access.address()), by);
        if (kinds.byHand.peers(tx, listener.gatewayId())) {
            DesiredResources.forget(tx, id);
            String key = Profiles.byId(tx, id).orElseThrow().identity().value();
            ByHand.admit(tx, id, HandWork.ADMIT_PEER, key, by.at());
        } else {
            isWritten = true;
        }
        expiry(id, ends);
        return id;
    }

    private UUID certificate(ProfilePlan wanted, IssueOrder.Access access, Optional<Instant> ends) {
        if (certificate == null) {
            certificate = kinds.byCertificate.kind(tx, listener, access.authority());
        }
        Optional<Secret> password = access.makeAccount() ? Optional.of(Passphrase.generate(RANDOM)) : Optional.empty();
        UUID id = kinds.byCertificate.keep(tx, wanted, certificate, password, ends, by);
        password.ifPresent(p -> delivered(id, wanted.label()));
        return id;
    }

    private UUID account(ProfilePlan wanted, IssueOrder.Access access, Optional<Instant> ends) {
        boolean make = access.makeAccount();
        String account = access.account().orElse(make ? wanted.label() : wanted.who());
        UUID id = kinds.byAccount.keep(
                tx,
                wanted,
                new AccountProfiles.Wanted(
                        kinds.certificates.facts(tx, listener),
                        account,
                        make ? Optional.of(Passphrase.generate(RANDOM)) : Optional.empty(),
                        access.reason()),
                by);
        expiry(id, ends);
        if (make) {
            delivered(id, account);
        }
        return id;
    }

    private void expiry(UUID id, Optional<Instant> ends) {
        if (ends.isPresent()) {
            ProfileExpiry.set(tx, id, ends, by.at());
        }
    }

    /** The account is still to be set at the gateway, by Tender or by hand. */
    private void delivered(UUID id, String account) {
        if (kinds.byHand.accountsAreWritten(tx, listener.gatewayId())) {
            DesiredResources.account(tx, listener.gatewayId(), id, Presence.PRESENT);
            isWritten = true;
        } else {
            ByHand.admit(tx, id, HandWork.ADMIT_ACCOUNT, account, by.at());
        }
    }

    /** Orders what is to be written at the gateway for all that were made: the job's id; empty where nothing is. */
    Optional<UUID> order() {
        return isWritten ? Optional.of(GatewayJobs.reconcile(tx, listener.gatewayId())) : Optional.empty();
    }
}
