package tender.store.jdbc;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;
import org.postgresql.PGStatement;
import tender.core.credential.Secret;

/** An open transaction; passed explicitly to whoever takes part in it. */
public final class Tx {
    private final Connection connection;
    private final Optional<Secret> journalKey;

    private static final int BATCH = 4_000;
    private static final String DEFER = "set constraints all deferred";
    private static final String NOTIFY =
            "select pg_notify(?, m)::text as sent from unnest(?::text[]) with ordinality as t (m, n) order by n";

    private final Map<String, PreparedStatement> waiting = new LinkedHashMap<>();
    private final Map<String, Set<String>> said = new LinkedHashMap<>();
    private final Map<Class<?>, Object> remembered = new HashMap<>();
    private String newest = "";
    private int queued;
    private boolean deferred;

    Tx(Connection connection, Optional<Secret> journalKey) {
        this.connection = connection;
        this.journalKey = journalKey;
    }

    /** The key that journal entries are chained with; empty where the process has none. */
    public Optional<Secret> journalKey() {
        return journalKey;
    }

    /**
     * Runs a write together with others of the same statement, before the next statement that is run at once and at the
     * latest when the transaction commits. What such rows refer to may be written after them: it is checked at the commit. A
     * write that changes or deletes rows comes after all that was given before it.
     */
    public void later(String sql, UnaryOperator<Params> params) {
        if (!deferred) {
            deferred = true;
            update(DEFER, p -> p);
        }
        boolean adds = sql.stripLeading().startsWith("insert");
        if (!adds && waiting.containsKey(sql) && !newest.equals(sql)) {
            flush(); // its batch would run before rows that were given since, which it may mean
        }
        newest = sql;
        try {
            PreparedStatement statement = waiting.get(sql);
            if (statement == null) {
                statement = connection.prepareStatement(sql);
                waiting.put(sql, statement);
            }
            params.apply(new Params(statement));
            statement.addBatch();
            queued++;
        } catch (SQLException e) {
            throw Sql.translate(name(sql), e);
        }
        if (queued >= BATCH) {
            flush();
        }
    }

    private void flush() {
        String at = "";
        try {
            for (Map.Entry<String, PreparedStatement> entry : waiting.entrySet()) {
                at = entry.getKey();
                entry.getValue().executeBatch();
            }
        } catch (SQLException e) {
            throw Sql.translate(name(at), e);
        } finally {
            close();
        }
    }

    void close() {
        for (PreparedStatement statement : waiting.values()) {
            try {
                statement.close();
            } catch (SQLException e) {
                throw Sql.translate("closing a statement", e);
            }
        }
        waiting.clear();
        queued = 0;
    }

    /** Tells listeners of a channel when the transaction commits; the same message is told once. */
    public void say(String channel, String message) {
        said.computeIfAbsent(channel, c -> new LinkedHashSet<>()).add(message);
    }

    /** What a repository keeps in mind until the transaction ends. */
    public <T> Optional<T> remembered(Class<T> type) {
        return Optional.ofNullable(type.cast(remembered.get(type)));
    }

    /** Keeps a value for this transaction's other callers; one of each type. */
    public <T> void remember(Class<T> type, T value) {
        remembered.put(type, value);
    }

    /** Runs what still waits and checks every constraint now, as the commit would. */
    void check() {
        flush();
        update("set constraints all immediate", p -> p);
    }

    /** Runs what still waits; called just before the commit. */
    void settle() {
        flush();
        said.forEach(
                (channel, messages) -> list(NOTIFY, p -> p.text(channel).texts(messages), row -> row.text("sent")));
    }

    /**
     * All rows of a question, in its order. What waits ({@link #later}) is written before.
     *
     * @param params fills the question marks, in their order
     */
    public <T> List<T> list(String sql, UnaryOperator<Params> params, RowMapper<T> mapper) {
        flush();
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            return rows(statement, params, mapper);
        } catch (SQLException e) {
            throw Sql.translate(name(sql), e);
        }
    }

    /**
     * As {@link #list}, for a question whose best plan depends on its values, such as a search: it is planned each time for
     * these values, which takes a few milliseconds.
     */
    public <T> List<T> listPlanned(String sql, UnaryOperator<Params> params, RowMapper<T> mapper) {
        flush();
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            statement.unwrap(PGStatement.class).setPrepareThreshold(0);
            return rows(statement, params, mapper);
        } catch (SQLException e) {
            throw Sql.translate(name(sql), e);
        }
    }

    private static <T> List<T> rows(PreparedStatement statement, UnaryOperator<Params> params, RowMapper<T> mapper)
            throws SQLException {
        params.apply(new Params(statement));
        try (ResultSet result = statement.executeQuery()) {
            List<T> out = new ArrayList<>();
            Row row = new Row(result);
            while (result.next()) {
                out.add(mapper.map(row));
            }
            return out;
        }
    }

    /** The first row of a question; empty where there is none. */
    public <T> Optional<T> first(String sql, UnaryOperator<Params> params, RowMapper<T> mapper) {
        return list(sql, params, mapper).stream().findFirst();
    }

    /** Runs a write and gives the number of rows it changed. */
    public int update(String sql, UnaryOperator<Params> params) {
        flush();
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            params.apply(new Params(statement));
            return statement.executeUpdate();
        } catch (SQLException e) {
            throw Sql.translate(name(sql), e);
        }
    }

    /** Runs a write that must change exactly one row. */
    public void updateOne(String sql, UnaryOperator<Params> params) {
        int changed = update(sql, params);
        if (changed != 1) {
            throw new StaleException(1, changed);
        }
    }

    private static String name(String sql) {
        return sql.strip().lines().findFirst().orElse("statement");
    }
}
