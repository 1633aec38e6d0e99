package tender.core.office;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;

/** What differs between two readings of one device, setting by setting. */
public final class Drift {
    /** A setting with what it was and what it is; empty text for what is not there. */
    public record Difference(String field, String was, String is) {
        private static final String RULE = "filter rule ";

        /** Whether what this was to become is not there, or what was to go still is, by what differs from it now. */
        private boolean isMissingBy(Difference left) {
            boolean sameField = field.equals(left.field)
                    || field.startsWith(RULE) && left.field.startsWith(RULE); // their numbers move
            boolean order = field.startsWith(RULE) && left.field.equals(ORDER); // the first that matches decides
            return order || sameField && (is.isEmpty() ? left.is.equals(was) : left.was.equals(is));
        }
    }

    private static final String ORDER = "filter order";

    private final List<Difference> out = new ArrayList<>();

    private Drift() {}

    /** Counts, clocks and whether a listener is active come and go by themselves and are no differences. */
    public static List<Difference> between(Device was, Device is) {
        Drift drift = new Drift();
        drift.field("release", was.release(), is.release());
        drift.field("zone", was.zone().orElse(""), is.zone().orElse(""));
        drift.listeners(was, is);
        drift.list("forward", was.forwards(), is.forwards(), Forward::words);
        if (!was.filter().equals(is.filter())) {
            drift.field(
                    "filter default",
                    was.filter().otherwiseAllow() ? "allow" : "deny",
                    is.filter().otherwiseAllow() ? "allow" : "deny");
            drift.rules(was.filter().rules(), is.filter().rules());
        }
        drift.map(
                "network",
                was.networks(),
                is.networks(),
                Network::name,
                n -> n.network()
                        + n.pool().map(p -> " pool " + p).orElse("")
                        + (n.reserved().isEmpty() ? "" : " fixed " + new TreeMap<>(n.reserved())));
        drift.map(
                "interface",
                was.interfaces(),
                is.interfaces(),
                Device.Interface::name,
                i -> i.side().word() + " " + i.addresses());
        drift.map("uplink", was.uplinks(), is.uplinks(), Uplink::label, Uplink::words);
        drift.map(
                "account",
                was.accounts(),
                is.accounts(),
                Device.Account::name,
                a -> (a.vpn() ? "vpn " : "") + (a.administers() ? "admin " : "") + (a.secondFactor() ? "code" : ""));
        return drift.out;
    }

    /**
     * Whether a device shows a change: each setting that was to become another is as it was to be, whatever else changed.
     *
     * @param wanted what {@code before} becomes with the change; where the two are alike, no reading can show it
     */
    public static boolean isMade(Device before, Device wanted, Device now) {
        List<Difference> left = between(wanted, now);
        List<Difference> change = between(before, wanted);
        return !change.isEmpty() && change.stream().noneMatch(d -> left.stream().anyMatch(l -> d.isMissingBy(l)));
    }

    /** The same, and how many peers each listener has: in the files of a backup they are settings like others. */
    public static List<Difference> ofBackups(Device was, Device is) {
        Drift drift = new Drift();
        for (Listener after : is.listeners()) {
            was.listener(after.name())
                    .ifPresent(before -> drift.field(
                            after.name() + " peers",
                            before.get(Attribute.PEERS).orElse(""),
                            after.get(Attribute.PEERS).orElse("")));
        }
        List<Difference> all = new ArrayList<>(between(was, is));
        all.addAll(drift.out);
        return all;
    }

    private void field(String name, String was, String is) {
        if (!Objects.equals(was, is)) {
            out.add(new Difference(name, was, is));
        }
    }

    private void listeners(Device was, Device is) {
        Set<String> names = new LinkedHashSet<>();
        was.listeners().forEach(l -> names.add(l.name()));
        is.listeners().forEach(l -> names.add(l.name()));
        for (String name : names) {
            Listener before = was.listener(name).orElse(null);
            Listener after = is.listener(name).orElse(null);
            if (before == null || after == null) {
                field("listener " + name, before == null ? "" : "there", after == null ? "" : "there");
                continue;
            }
            for (Attribute a : Attribute.values()) {
                if (a.concerns() != Attribute.Concerns.SEEN) {
                    field(
                            name + " " + a.word(),
                            before.get(a).orElse(""),
                            after.get(a).orElse(""));
                }
            }
        }
    }

    /** Rules by their words: those that came, those that went, and a changed order. */
    private void rules(List<FilterRule> was, List<FilterRule> is) {
        List<String> before = was.stream().map(FilterRule::words).toList();
        List<String> after = is.stream().map(FilterRule::words).toList();
        int found = out.size();
        for (int i = 0; i < before.size(); i++) {
            if (!after.contains(before.get(i))) {
                out.add(new Difference("filter rule " + (i + 1), before.get(i), ""));
            }
        }
        for (int i = 0; i < after.size(); i++) {
            if (!before.contains(after.get(i))) {
                out.add(new Difference("filter rule " + (i + 1), "", after.get(i)));
            }
        }
        if (out.size() == found && !before.equals(after)) {
            out.add(new Difference(ORDER, String.join("; ", before), String.join("; ", after)));
        }
    }

    private <T> void list(String field, List<T> was, List<T> is, Function<T, String> words) {
        List<String> before = was.stream().map(words).toList();
        List<String> after = is.stream().map(words).toList();
        before.stream().filter(w -> !after.contains(w)).forEach(w -> out.add(new Difference(field, w, "")));
        after.stream().filter(w -> !before.contains(w)).forEach(w -> out.add(new Difference(field, "", w)));
    }

    private <T> void map(String field, List<T> was, List<T> is, Function<T, String> name, Function<T, String> words) {
        Map<String, String> before = new LinkedHashMap<>();
        Map<String, String> after = new LinkedHashMap<>();
        was.forEach(t -> before.put(name.apply(t), words.apply(t)));
        is.forEach(t -> after.put(name.apply(t), words.apply(t)));
        Set<String> names = new LinkedHashSet<>(before.keySet());
        names.addAll(after.keySet());
        names.forEach(n -> field(field + " " + n, before.getOrDefault(n, ""), after.getOrDefault(n, "")));
    }
}
