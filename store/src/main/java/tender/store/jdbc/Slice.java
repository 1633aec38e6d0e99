package tender.store.jdbc;

import java.util.Map;
import java.util.Optional;
import java.util.function.BiFunction;

/**
 * The part of a list that is wanted, and its order: the list's own, after one key, or that of a column, after so many rows. The
 * order of a column is for looking, with rows that come and go between two pages; the list's own misses none.
 */
public final class Slice<K> {
    private final Optional<String> order;
    private final Optional<K> after;
    private final long skipped;
    private final int limit;

    private Slice(Optional<String> order, Optional<K> after, long skipped, int limit) {
        this.order = order;
        this.after = after;
        this.skipped = skipped;
        this.limit = limit;
    }

    /** In the list's own order, after a key. */
    public static <K> Slice<K> after(K key, int limit) {
        return new Slice<>(Optional.empty(), Optional.of(key), 0, limit);
    }

    /**
     * In the order of a column.
     *
     * @param columns what a list may be sorted by: words to SQL of ours
     * @param word one of them; with {@code -} before it the last comes first
     * @param skipped rows that were given before
     * @throws IllegalArgumentException where the list is not sorted by it
     */
    public static <K> Slice<K> sorted(Map<String, String> columns, String word, long skipped, int limit) {
        boolean down = word.startsWith("-");
        String sql = columns.get(down ? word.substring(1) : word);
        if (sql == null) {
            throw new IllegalArgumentException("the list is not sorted by " + word);
        }
        return new Slice<>(
                Optional.of("(" + sql + ")" + (down ? " desc nulls last" : " nulls last")),
                Optional.empty(),
                skipped,
                limit);
    }

    /** Leaves what comes after the key, where the order is the list's own. */
    public void narrow(Conditions where, String sql, BiFunction<Params, K, Params> value) {
        after.ifPresent(key -> where.and(sql, p -> value.apply(p, key)));
    }

    /**
     * The end of the statement.
     *
     * @param own the list's own order, in which rows stand that are equal otherwise
     */
    public String end(String own) {
        return " order by " + order.map(o -> o + ", ").orElse("") + own + " limit ? offset ?";
    }

    /** Fills the question marks of {@link #end}. */
    public Params fill(Params p) {
        return p.integer(limit).number(skipped);
    }
}
