package tender.api;

import java.util.List;

/** What removing something would do, before it is removed with DELETE. */
public final class RemovalApi {
    /**
     * A removal as it would be now.
     *
     * @param what the thing, in words
     * @param effects what goes with it and what stays
     * @param obstacles why it cannot be removed yet, each with what to do; empty: it can
     */
    public record Preview(String what, List<String> effects, List<String> obstacles) {}

    private RemovalApi() {}
}
