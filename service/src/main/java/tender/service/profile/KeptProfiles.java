package tender.service.profile;

import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.store.journal.By;
import tender.store.office.Listeners;

/** Profiles of devices that keep themselves current: issued when they join, and made anew for their listeners without anybody who asks. */
public final class KeptProfiles {
    private final Issuing issuing;
    private final Renewing renewing;

    KeptProfiles(Issuing issuing, Renewing renewing) {
        this.issuing = issuing;
        this.renewing = renewing;
    }

    /**
     * Issues one as the listener's rules say.
     *
     * @throws tender.service.refusal.Refused where the listener asks for something that has to be said, or there is one already
     */
    public void issue(String person, String device, Listeners.Listener listener, By by) {
        issuing.issue(
                new IssueOrder(
                        person,
                        device,
                        listener.gateway(),
                        Optional.of(listener.name()),
                        Optional.empty(),
                        new IssueOrder.Said(Optional.empty(), Optional.empty(), List.of()),
                        Optional.empty(),
                        IssueOrder.Access.usual(false)),
                by);
    }

    /**
     * A new revision for the listener as it is now, with the same keys.
     *
     * @throws tender.service.refusal.Refused where its key was erased, or only the gateway can make its file
     */
    public void renew(UUID profileId, By by) {
        renewing.renew(profileId, RenewOrder.AS_IT_IS, by);
    }
}
