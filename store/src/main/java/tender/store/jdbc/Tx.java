package tender.store.jdbc;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;

/** An open transaction; passed explicitly to whoever takes part in it. */
public final class Tx {
    private final Connection connection;

    Tx(Connection connection) {
        this.connection = connection;
    }

    public <T> List<T> list(String sql, UnaryOperator<Params> params, RowMapper<T> mapper) {
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            params.apply(new Params(statement));
            try (ResultSet result = statement.executeQuery()) {
                List<T> out = new ArrayList<>();
                Row row = new Row(result);
                while (result.next()) {
                    out.add(mapper.map(row));
                }
                return out;
            }
        } catch (SQLException e) {
            throw Sql.translate(name(sql), e);
        }
    }

    public <T> Optional<T> first(String sql, UnaryOperator<Params> params, RowMapper<T> mapper) {
        return list(sql, params, mapper).stream().findFirst();
    }

    /** Runs a write and gives the number of rows it changed. */
    public int update(String sql, UnaryOperator<Params> params) {
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
