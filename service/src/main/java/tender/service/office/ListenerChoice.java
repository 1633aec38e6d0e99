package tender.service.office;

import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import tender.core.office.Protocol;
import tender.service.refusal.Refused;
import tender.store.office.Listeners;

/** Which listener of a gateway is meant: the one that was named, or the only one. */
public final class ListenerChoice {
    private ListenerChoice() {}

    /**
     * Of those that the gateway has now. A PPTP listener is only taken by name: nothing is issued for it.
     *
     * @throws Refused where none or several fit
     */
    public static Listeners.Listener of(String gateway, List<Listeners.Listener> all, Optional<String> name) {
        List<Listeners.Listener> there = all.stream()
                .filter(l -> !l.gone())
                .filter(l -> name.isPresent() || !l.protocol().equals(Protocol.PPTP.word()))
                .toList();
        return only(gateway, "listener", there, Listeners.Listener::name, name);
    }

    /**
     * @param kind what is looked for, such as "openvpn listener"
     * @throws Refused where none or several fit
     */
    public static <L> L only(
            String gateway, String kind, List<L> all, Function<L, String> nameOf, Optional<String> wanted) {
        List<L> fitting = all.stream()
                .filter(l -> wanted.isEmpty() || nameOf.apply(l).equals(wanted.get()))
                .toList();
        if (fitting.size() != 1) {
            throw new Refused(
                    Refused.Kind.NOT_FOUND,
                    fitting.isEmpty()
                            ? gateway + " has no such " + kind + "; tender gateway show " + gateway + " lists them"
                            : gateway + " has several " + kind + "s; name one: "
                                    + fitting.stream().map(nameOf).sorted().collect(Collectors.joining(", ")),
                    "listener");
        }
        return fitting.get(0);
    }
}
