package tender.service.profile;

import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import tender.core.wire.MalformedException;
import tender.service.http.Call;
import tender.service.refusal.Refused;
import tender.store.jdbc.Tx;
import tender.store.office.Gateways;
import tender.store.person.People;
import tender.store.profile.ProfileState;
import tender.store.profile.Standings;

/** Which profiles a caller asks for. */
final class ProfileFilter {
    static final String WORDS =
            "?text= a part of the label, the person's name or handle; ?gateway= a name or ID; ?site=, ?person= and"
                    + " ?team= names; ?state= one state, or living; ?handed-out=true those handed out; ?open= not-handed-out, never-seen, unproven or failing";

    private static final List<String> STATES =
            Stream.of(ProfileState.values()).map(ProfileState::word).toList();
    private static final Map<String, Standings.Open> OPEN =
            Stream.of(Standings.Open.values()).collect(Collectors.toMap(Standings.Open::word, o -> o));

    private ProfileFilter() {}

    static Standings.Filter of(Tx tx, Gateways gateways, Call call) {
        return new Standings.Filter(
                call.text(),
                call.query("gateway").map(name -> gateway(tx, gateways, name)),
                call.query("site"),
                call.query("person")
                        .map(handle -> People.byHandle(tx, handle)
                                .orElseThrow(() -> Refused.notFound("person"))
                                .id()),
                call.query("team"),
                call.query("state").map(ProfileFilter::states).orElse(Set.of()),
                call.query("handed-out").isPresent(),
                call.query("open").map(ProfileFilter::open));
    }

    private static UUID gateway(Tx tx, Gateways gateways, String name) {
        return gateways.byName(tx, name)
                .map(Gateways.Gateway::id)
                .or(() -> Call.id(name))
                .orElseThrow(() -> Refused.notFound("gateway"));
    }

    private static Set<ProfileState> states(String text) {
        if (text.equals("living")) {
            return ProfileState.LIVING;
        }
        if (!STATES.contains(text)) {
            throw new MalformedException("state", "state", "is living, or one of " + String.join(", ", STATES));
        }
        return Set.of(ProfileState.of(text));
    }

    private static Standings.Open open(String word) {
        if (!OPEN.containsKey(word)) {
            throw new MalformedException(
                    "open",
                    "open",
                    "is one of "
                            + String.join(", ", OPEN.keySet().stream().sorted().toList()));
        }
        return OPEN.get(word);
    }
}
