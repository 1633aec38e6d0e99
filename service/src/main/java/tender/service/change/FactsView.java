package tender.service.change;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import tender.api.ChangeApi;
import tender.core.office.Attribute;
import tender.core.office.Device;
import tender.core.office.FilterRule;
import tender.core.office.Listener;
import tender.core.office.Uplink;
import tender.store.office.SettingSources;

/** What a gateway said of itself, in words and with explanations. */
final class FactsView {
    private FactsView() {}

    /** @param sources where settings are known from, of a gateway managed by hand */
    static ChangeApi.Facts of(Device d, List<ChangeApi.Drift> drift, List<SettingSources.Said> sources) {
        Map<String, String> facts = new LinkedHashMap<>();
        put(facts, "make", d.make());
        put(facts, "model", d.model());
        put(facts, "release", d.release());
        put(facts, "time zone", d.zone().orElse(""));
        d.clockOffset().ifPresent(o -> put(facts, "clock", o.toSeconds() == 0 ? "right" : o.toSeconds() + " s off"));
        put(facts, "inside host", d.insideHost().map(Object::toString).orElse(""));
        List<String> rules = new java.util.ArrayList<>();
        for (int i = 0; i < d.filter().rules().size(); i++) {
            FilterRule r = d.filter().rules().get(i);
            rules.add((i + 1) + ". " + r.words() + (r.label().isEmpty() ? "" : " (" + r.label() + ")"));
        }
        if (!rules.isEmpty()) {
            rules.add("otherwise " + (d.filter().otherwiseAllow() ? "allow" : "deny"));
        }
        return new ChangeApi.Facts(
                facts,
                d.uplinks().stream().map(Uplink::words).toList(),
                d.networks().stream()
                        .map(n -> n.name() + " " + n.network()
                                + n.pool().map(p -> ", pool " + p).orElse(""))
                        .toList(),
                d.interfaces().stream()
                        .map(i -> i.name() + " " + i.side().word() + " "
                                + String.join(
                                        ", ",
                                        i.addresses().stream()
                                                .map(Object::toString)
                                                .toList()))
                        .toList(),
                d.forwards().stream()
                        .map(f -> f.words() + (f.label().isEmpty() ? "" : " (" + f.label() + ")"))
                        .toList(),
                rules,
                d.accounts().stream()
                        .map(a -> a.name()
                                + (a.vpn() ? ", tunnel" : "")
                                + (a.administers() ? ", administers" : "")
                                + (a.secondFactor() ? ", one-time code" : ""))
                        .toList(),
                d.listeners().stream().map(l -> listener(l, sources)).toList(),
                drift);
    }

    private static void put(Map<String, String> facts, String name, String value) {
        if (!value.isEmpty()) {
            facts.put(name, value);
        }
    }

    private static ChangeApi.ExplainedListener listener(Listener l, List<SettingSources.Said> sources) {
        return new ChangeApi.ExplainedListener(
                l.name(),
                l.protocol().title(),
                l.values().entrySet().stream()
                        .map(e -> new ChangeApi.ExplainedSetting(
                                e.getKey().word(),
                                e.getValue(),
                                e.getKey().does(),
                                e.getKey().costs(),
                                e.getKey().safe(),
                                e.getKey().concerns() == Attribute.Concerns.CLIENTS,
                                e.getKey().restart().name().toLowerCase(Locale.ROOT),
                                sources.stream()
                                        .filter(s -> s.listener().equals(l.name()) && s.setting() == e.getKey())
                                        .map(s -> new ChangeApi.KnownFrom(
                                                s.source().word(), s.value(), s.at()))
                                        .toList()))
                        .toList());
    }
}
