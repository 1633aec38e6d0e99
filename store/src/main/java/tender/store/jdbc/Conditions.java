package tender.store.jdbc;

import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;

/** Conditions that all have to hold, with their values in the order of the text. For statements that filter by what is asked. */
public final class Conditions {
    private final List<String> texts = new ArrayList<>();
    private final List<UnaryOperator<Params>> values = new ArrayList<>();

    /**
     * @param sql a condition that stands in our code, never made of what somebody sent
     * @param value fills its question marks
     */
    public Conditions and(String sql, UnaryOperator<Params> value) {
        texts.add("(" + sql + ")");
        values.add(value);
        return this;
    }

    /** All conditions joined by {@code and}; {@code true} where there are none. */
    public String sql() {
        return texts.isEmpty() ? "true" : String.join(" and ", texts);
    }

    /** Fills the question marks of {@link #sql}, in their order; those after them follow. */
    public Params fill(Params params) {
        values.forEach(v -> v.apply(params));
        return params;
    }
}
