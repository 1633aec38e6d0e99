package tender.service.profile;

import java.util.Optional;
import tender.service.http.Call;
import tender.store.profile.Whose;

/** Whose handouts, trials or connections a caller asks for. */
public final class AskedFor {
    /** The query, for OpenAPI. */
    public static final String WORDS =
            "?profile=ID for one profile's, ?text= a part of label or person, ?gateway=, ?person= and ?team= names";

    private AskedFor() {}

    /** All that a caller narrowed. */
    public static Whose of(Call call) {
        return new Whose(
                call.queryId("profile"), call.text(), call.query("gateway"), call.query("person"), call.query("team"));
    }

    /** The same without the gateway, for lists that know it by themselves. */
    public static Whose anywhere(Call call) {
        return new Whose(
                call.queryId("profile"), call.text(), Optional.empty(), call.query("person"), call.query("team"));
    }
}
