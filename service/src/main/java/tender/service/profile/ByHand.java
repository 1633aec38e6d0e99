package tender.service.profile;

import java.time.Instant;
import java.util.List;
import java.util.Set;
import java.util.UUID;
import tender.core.office.HandWork;
import tender.io.gateway.Capability;
import tender.service.device.DeviceDescriptions;
import tender.store.credential.Credentials;
import tender.store.event.Events;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.profile.Instructions;
import tender.store.profile.ProfileState;
import tender.store.profile.Profiles;

/** What Tender cannot do at a gateway becomes an instruction for a person. */
public final class ByHand {
    private final Gateways gateways;
    private final DeviceDescriptions descriptions;

    public ByHand(Gateways gateways, DeviceDescriptions descriptions) {
        this.gateways = gateways;
        this.descriptions = descriptions;
    }

    /** Whether somebody has to write the peers of a gateway by hand. */
    boolean peers(Tx tx, UUID gatewayId) {
        return !can(tx, gatewayId, Capability.FILES);
    }

    /** Whether the gateway cannot be written at all. */
    public boolean everything(Tx tx, UUID gatewayId) {
        return !can(tx, gatewayId, Capability.CHANGE);
    }

    /** Whether Tender itself sets and drops the accounts of a gateway. */
    boolean accountsAreWritten(Tx tx, UUID gatewayId) {
        return can(tx, gatewayId, Capability.ACCOUNTS);
    }

    private boolean can(Tx tx, UUID gatewayId, Capability capability) {
        Gateways.Gateway g = gateways.byId(tx, gatewayId).orElseThrow();
        return descriptions
                .capabilities(g.connector(), g.description(), g.readOnly())
                .contains(capability);
    }

    /** The profile waits until somebody has added its peer or account. */
    static void admit(Tx tx, UUID profileId, HandWork work, String what, Instant now) {
        Profiles.wait(tx, profileId);
        Instructions.put(tx, profileId, work, what, now);
    }

    /** The profile is withdrawn, and what it rests on is still to be closed by somebody. */
    static void close(Tx tx, UUID profileId, HandWork kind, String what, By by) {
        Profiles.move(
                tx,
                List.of(profileId),
                Set.of(ProfileState.WITHDRAWING),
                ProfileState.CLOSING,
                java.util.Optional.empty());
        Instructions.put(tx, profileId, kind, what, by.at());
        Journal.append(tx, by, "closing-asked", "profile", profileId, kind.word() + " by hand: " + what);
    }

    /** What a server says to an account that it does not let in, and to a certificate that it revoked. */
    private static final Set<String> REFUSALS = Set.of("password-refused", "certificate-revoked");

    /**
     * Looks whether a trial shows that it is done: the profile gets in where it was to be added, or the server itself refuses
     * account or certificate where they were to be closed. Silence shows nothing.
     *
     * @param causes codes of the causes of the rung that failed
     */
    public static void tried(Tx tx, UUID profileId, boolean proven, Set<String> causes, Instant now) {
        Instructions.of(tx, profileId)
                .filter(i ->
                        !i.kind().closes() ? proven : !proven && causes.stream().anyMatch(REFUSALS::contains))
                .ifPresent(i -> done(tx, i, "a trial", now));
    }

    /** A reading or a trial has shown that it is done. */
    public static void done(Tx tx, Instructions.Instruction i, String shownBy, Instant now) {
        Instructions.done(tx, i.profileId());
        if (!i.kind().closes()) {
            Profiles.move(
                    tx,
                    List.of(i.profileId()),
                    Set.of(ProfileState.WAITING),
                    ProfileState.READY,
                    java.util.Optional.empty());
        } else {
            Profiles.move(
                    tx,
                    List.of(i.profileId()),
                    Set.of(ProfileState.CLOSING),
                    ProfileState.WITHDRAWN,
                    java.util.Optional.empty());
            Credentials.erase(tx, i.profileId()); // it was kept to show that it is refused
            if (i.state() == ProfileState.CLOSING) {
                Profiles.release(tx, List.of(i.profileId()));
            }
        }
        Events.say(tx, "profile", i.profileId());
        Journal.append(
                tx,
                By.tender(now),
                i.kind().closes() ? "closing-shown" : "admission-shown",
                "profile",
                i.profileId(),
                i.kind().word() + ", shown by " + shownBy);
    }
}
