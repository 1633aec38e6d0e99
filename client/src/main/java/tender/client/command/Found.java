package tender.client.command;

import tender.api.OfficeApi;
import tender.api.ProfileApi;

/** Things by the names that people know them by. */
public final class Found {
    private static final int SHORT_ID = 8;

    private Found() {}

    /** The end of an id, which is enough to tell what lists show. */
    public static String shortId(String id) {
        return id.substring(id.length() - SHORT_ID);
    }

    /** @throws CallFailure if there is no gateway of this name */
    public static OfficeApi.Gateway gateway(Calls calls, String name) {
        return calls.get("/gateways/named/" + name, OfficeApi.Gateway.class);
    }

    /** @throws CallFailure if there is no profile of this label */
    public static ProfileApi.Profile profile(Calls calls, String label) {
        return calls.get("/profiles/labelled/" + label, ProfileApi.Profile.class);
    }
}
