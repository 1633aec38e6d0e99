package tender.store.jdbc;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.time.Duration;
import java.util.Optional;
import java.util.Properties;
import java.util.function.Consumer;
import java.util.function.Function;
import org.flywaydb.core.Flyway;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;

/** The database: a bounded pool and transactions over it. Safe for several threads. */
public final class Db implements AutoCloseable {
    private static final int MAX_TRIES = 4;

    /** Where the database is and as whom to connect; {@code connections} bounds the pool. */
    public record Place(String url, String user, Secret password, int connections, Duration patience) {}

    private final Place place;
    private final HikariDataSource pool;
    private volatile Secret journalKey;

    private Db(Place place, HikariDataSource pool) {
        this.place = place;
        this.pool = pool;
    }

    /** Connects and brings the tables up to this version, all as one user. */
    public static Db open(Place place) {
        migrate(place);
        return connect(place);
    }

    /** Brings the tables up to this version as their owner, and grants the others what they need. */
    public static Db open(Place place, Place owner, String staff) {
        migrate(owner);
        Db asOwner = connect(owner);
        try {
            asOwner.run(tx -> Privileges.give(tx, place.user(), staff));
        } finally {
            asOwner.close();
        }
        return connect(place);
    }

    private static void migrate(Place owner) {
        Flyway.configure()
                .dataSource(owner.url(), owner.user(), owner.password().revealText(RevealSecret.TO_SIGN_IN))
                .locations("classpath:db/migration")
                .load()
                .migrate();
    }

    /** Connects to tables that are there. */
    public static Db connect(Place place) {
        HikariConfig config = new HikariConfig();
        config.setJdbcUrl(place.url());
        config.setUsername(place.user());
        config.setPassword(place.password().revealText(RevealSecret.TO_SIGN_IN));
        config.setMaximumPoolSize(place.connections());
        config.setConnectionTimeout(place.patience().toMillis());
        config.setAutoCommit(false);
        config.setDataSourceProperties(driverProperties());
        config.setMinimumIdle(Math.min(2, place.connections()));
        return new Db(place, new HikariDataSource(config));
    }

    /** The key that journal entries are chained with from now on. */
    public void chainWith(Secret key) {
        journalKey = key;
    }

    /** Error details quote row values, so they are left out. */
    private static Properties driverProperties() {
        Properties properties = new Properties();
        properties.setProperty("logServerErrorDetail", "false");
        properties.setProperty("socketTimeout", "60");
        properties.setProperty("tcpKeepAlive", "true");
        // compiling a statement takes far longer than running any of ours
        properties.setProperty("options", "-c jit=off");
        properties.setProperty("reWriteBatchedInserts", "true");
        return properties;
    }

    /**
     * Runs work in one transaction and gives what it gives. Where another transaction stood in the way it runs again from the
     * start, so work changes nothing but the database.
     *
     * @throws StoreException where it cannot be done
     * @throws ConflictException where a unique value is taken
     */
    public <T> T inTransaction(Function<Tx, T> work) {
        for (int attempt = 1; ; attempt++) {
            try {
                return once(work);
            } catch (StoreException e) {
                if (attempt >= MAX_TRIES || !Sql.isWorthRetrying(e)) {
                    throw e;
                }
            }
        }
    }

    /** As {@link #inTransaction}, for work that gives nothing. */
    public void run(Consumer<Tx> work) {
        inTransaction(tx -> {
            work.accept(tx);
            return null;
        });
    }

    /**
     * What {@link #inTransaction} would give, with every constraint checked, and nothing kept: for saying beforehand what a call
     * would do.
     */
    public <T> T rehearse(Function<Tx, T> work) {
        try (Connection connection = pool.getConnection()) {
            Tx tx = new Tx(connection, Optional.ofNullable(journalKey));
            try {
                T out = work.apply(tx);
                tx.check();
                connection.rollback();
                return out;
            } catch (RuntimeException e) {
                rollBack(connection, e);
                throw e;
            } finally {
                tx.close();
            }
        } catch (SQLException e) {
            throw Sql.translate("rehearsal", e);
        }
    }

    private <T> T once(Function<Tx, T> work) {
        try (Connection connection = pool.getConnection()) {
            Tx tx = new Tx(connection, Optional.ofNullable(journalKey));
            try {
                T out = work.apply(tx);
                tx.settle();
                connection.commit();
                return out;
            } catch (RuntimeException e) {
                rollBack(connection, e);
                throw e;
            } finally {
                tx.close();
            }
        } catch (SQLException e) {
            throw Sql.translate("transaction", e);
        }
    }

    private static void rollBack(Connection connection, RuntimeException reason) {
        try {
            connection.rollback();
        } catch (SQLException e) {
            reason.addSuppressed(e);
        }
    }

    /** A connection outside the pool, for listening; the caller closes it. */
    public Connection ownConnection() throws SQLException {
        Properties properties = driverProperties();
        properties.remove("socketTimeout");
        properties.setProperty("user", place.user());
        properties.setProperty("password", place.password().revealText(RevealSecret.TO_SIGN_IN));
        return DriverManager.getConnection(place.url(), properties);
    }

    /** Connections that are open, in use or not. */
    public int connections() {
        return pool.getHikariPoolMXBean().getTotalConnections();
    }

    /** Callers that wait for a connection. */
    public int waiting() {
        return pool.getHikariPoolMXBean().getThreadsAwaitingConnection();
    }

    /** Connections in use now. */
    public int busy() {
        return pool.getHikariPoolMXBean().getActiveConnections();
    }

    @Override
    public void close() {
        pool.close();
    }
}
