package tender.service.change;

import java.util.List;
import java.util.Locale;
import tender.api.ChangeApi;
import tender.core.impact.Impact;
import tender.service.finding.FindingRoutes;
import tender.store.change.DeviceChanges.DeviceChange;
import tender.store.jdbc.Tx;
import tender.store.office.Listeners;
import tender.store.profile.ListenerProfiles;

/** Changes and their impact, as the API shows them. */
final class ChangeView {
    private ChangeView() {}

    static ChangeApi.Preview of(ImpactPreview p) {
        Impact.Preview preview = p.impact();
        return new ChangeApi.Preview(
                preview.words(),
                preview.restart().name().toLowerCase(Locale.ROOT),
                preview.restart().words(),
                p.cutOff(),
                preview.works(),
                preview.affected().stream().map(ChangeView::of).toList(),
                FindingRoutes.render(preview.appears()),
                FindingRoutes.render(preview.vanishes()),
                p.guarded(),
                p.byHand());
    }

    private static ChangeApi.Affected of(Impact.Affected a) {
        return new ChangeApi.Affected(
                a.issued().profileId(),
                a.issued().label(),
                a.issued().person(),
                a.fate().name().toLowerCase(Locale.ROOT).replace('_', '-'),
                a.differences().stream()
                        .map(d -> new ChangeApi.Difference(d.field(), d.was(), d.is()))
                        .toList());
    }

    static List<ChangeApi.DeviceChange> of(Tx tx, List<DeviceChange> all) {
        return all.stream().map(c -> of(tx, c)).toList();
    }

    private static ChangeApi.DeviceChange of(Tx tx, DeviceChange c) {
        return new ChangeApi.DeviceChange(
                c.id().toString(),
                c.gateway(),
                c.state().word(),
                c.words(),
                c.note(),
                c.revertAt(),
                c.armedOnDevice(),
                c.removeWhenUnused(),
                c.removeAt(),
                usersLeft(tx, c),
                c.orderedAt(),
                c.endedAt());
    }

    private static List<String> usersLeft(Tx tx, DeviceChange c) {
        return c.removeWhenUnused()
                .flatMap(name -> Listeners.of(tx, List.of(c.gatewayId())).stream()
                        .filter(l -> l.name().equals(name) && !l.gone())
                        .findFirst())
                .map(l -> ListenerProfiles.usersLeft(tx, l.id()))
                .orElse(List.of());
    }
}
