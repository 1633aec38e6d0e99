package tender.service.gateway;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Sites;

/** The site at which a new gateway stands; a company with one place needs to name none. */
final class SiteOfGateway {
    private static final String ONLY = "office";

    private SiteOfGateway() {}

    /**
     * The named one; else the only one, created where there is none.
     *
     * @throws Refused where there is no such site, or several and none was named
     */
    static Sites.Site of(Tx tx, Optional<String> name, By by) {
        if (name.isPresent()) {
            return Sites.byName(tx, name.get())
                    .orElseThrow(
                            () -> new Refused(Refused.Kind.NOT_FOUND, "there is no such site; add it first", "site"));
        }
        List<Sites.Site> all = Sites.page(tx, "", 2);
        if (all.size() == 2) {
            throw new Refused(Refused.Kind.MALFORMED, "there are several sites; say which", "site");
        }
        return all.stream().findFirst().orElseGet(() -> {
            Sites.Site made = new Sites.Site(Ids.next(), ONLY, "Office", "company", "UTC", Map.of(), 1);
            Sites.insert(tx, made);
            Events.say(tx, "site", made.id());
            Journal.append(tx, by, "site-added", "site", made.id(), ONLY);
            return made;
        });
    }
}
