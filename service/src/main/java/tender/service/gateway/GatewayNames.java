package tender.service.gateway;

import java.util.List;
import java.util.Optional;
import tender.core.office.Uplink;
import tender.service.office.OfficeDocuments;
import tender.store.event.Events;
import tender.store.jdbc.Tx;
import tender.store.office.Gateways;

/** What goes by a gateway's name: the uplinks of those that stand behind it, as operators recorded them. */
final class GatewayNames {
    private GatewayNames() {}

    /** Makes everything that goes by the old name go by the new one, after the gateway itself was renamed. */
    static void follow(Tx tx, Gateways gateways, Gateways.Gateway renamed, String old) {
        for (Gateways.Gateway inner : gateways.directlyBehind(tx, old)) {
            List<Uplink> uplinks = OfficeDocuments.UPLINKS.read(inner.uplinks()).stream()
                    .map(u -> u.behind().equals(Optional.of(old)) ? u.front(renamed.name()) : u)
                    .toList();
            Gateways.OperatorSettings settings = new Gateways.OperatorSettings(
                    inner.insideHost(),
                    inner.hosts(),
                    inner.factory(),
                    OfficeDocuments.UPLINKS.write(uplinks),
                    inner.contact());
            gateways.set(tx, inner.with(inner.kind(), settings, inner.management()), Optional.empty(), inner.version());
            Events.say(tx, "gateway", inner.id());
        }
        Events.say(tx, "site", renamed.siteId());
    }
}
