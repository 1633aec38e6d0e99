package tender.store.testing;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.store.jdbc.Db;

/** A fresh database on the server that {@code ./test} starts, dropped when closed. */
public final class TestDatabase implements AutoCloseable {
    private static final String URL = System.getenv("TENDER_TEST_DATABASE");

    private final String name = "t" + UUID.randomUUID().toString().replace("-", "");
    /** For looking past the service, again and again; ends with the database. */
    private Connection looking;

    private TestDatabase() {}

    /** With the tables of this version, and nothing in them. */
    public static TestDatabase fresh() {
        TestDatabase made = new TestDatabase();
        Template.copy(server(), password("tender_admin").revealText(RevealSecret.TO_SIGN_IN), made.name);
        return made;
    }

    /** Without any table. */
    public static TestDatabase bare() {
        server();
        TestDatabase made = new TestDatabase();
        made.execute("create database " + made.name + " owner tender_owner");
        return made;
    }

    private static String server() {
        if (URL == null) {
            throw new IllegalStateException("no database for tests; run ./test, or ./test MODULE");
        }
        return URL;
    }

    /** The file that holds the password of one of the server's roles. */
    public static Path passwordFile(String role) {
        String file = switch (role) {
            case "tender" -> "password";
            default -> role.replace("tender_", "") + "-password";
        };
        return Path.of(System.getenv("TENDER_TEST_DATABASE_FOLDER"), file);
    }

    /** The settings that lead a service here. */
    public Map<String, String> settings() {
        return Map.of(
                "TENDER_DATABASE_URL",
                url(),
                "TENDER_DATABASE_PASSWORD_FILE",
                passwordFile("tender").toString(),
                "TENDER_DATABASE_OWNER",
                "tender_owner",
                "TENDER_DATABASE_OWNER_PASSWORD_FILE",
                passwordFile("tender_owner").toString());
    }

    private static Secret password(String role) {
        try {
            return Secret.of(Files.readAllLines(passwordFile(role)).get(0));
        } catch (IOException e) {
            throw new IllegalStateException("the test database's passwords cannot be read", e);
        }
    }

    public String url() {
        return URL + name;
    }

    /** Makes the tables as their owner and connects as the service does. */
    public Db open() {
        return Db.open(place("tender"), place("tender_owner"), "tender_staff");
    }

    /** This database as one of the server's roles. */
    public Db.Place place(String role) {
        return place(url(), role);
    }

    static Db.Place place(String url, String role) {
        return new Db.Place(url, role, password(role), 8, Duration.ofSeconds(5));
    }

    /** Runs a statement in the server's own database as who runs the server. */
    public void execute(String sql) {
        execute("postgres", sql);
    }

    /** Runs a statement here as who runs the server, past all that the service may do. */
    public void tamper(String sql) {
        execute(name, sql);
    }

    /** Makes all recurring jobs due, as when much time has passed; a moved clock is the node's own, not the database's. */
    public void makeJobsDue() {
        tamper("update job set run_at = now() where state = 'waiting' and every_millis is not null");
    }

    /** Looks into the database past the service; fails where the first number is another. */
    public void expect(String query, long expected) {
        long found = number(query);
        if (found != expected) {
            throw new AssertionError(query + " gives " + found + ", not " + expected);
        }
    }

    /** The first number that a query gives, past the service. */
    public synchronized long number(String query) {
        boolean known = looking != null;
        try {
            if (!known) {
                looking = DriverManager.getConnection(
                        url(), "tender_admin", password("tender_admin").revealText(RevealSecret.TO_SIGN_IN));
            }
            try (Statement statement = looking.createStatement();
                    var rows = statement.executeQuery(query)) {
                rows.next();
                return rows.getLong(1);
            }
        } catch (SQLException e) {
            looking = null;
            if (known) { // tests stop the server, and end connections
                return number(query);
            }
            throw new IllegalStateException(query, e);
        }
    }

    /** Every column that could hold a text or bytes: table, column, type. */
    public List<String[]> columns() {
        List<String[]> out = new ArrayList<>();
        try (Connection connection = DriverManager.getConnection(
                        url(), "tender_admin", password("tender_admin").revealText(RevealSecret.TO_SIGN_IN));
                Statement statement = connection.createStatement();
                var rows = statement.executeQuery(
                        "select c.table_name, c.column_name, c.data_type from information_schema.columns c"
                                + " join information_schema.tables t using (table_schema, table_name)"
                                + " where table_schema = 'public' and t.table_type = 'BASE TABLE'"
                                + " and c.data_type in ('bytea', 'text', 'jsonb', 'ARRAY')")) {
            while (rows.next()) {
                out.add(new String[] {rows.getString(1), rows.getString(2), rows.getString(3)});
            }
            return out;
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }

    private static void execute(String database, String sql) {
        try (Connection connection = DriverManager.getConnection(
                        URL + database, "tender_admin", password("tender_admin").revealText(RevealSecret.TO_SIGN_IN));
                Statement statement = connection.createStatement()) {
            statement.execute(sql);
        } catch (SQLException e) {
            throw new IllegalStateException(sql, e);
        }
    }

    public String name() {
        return name;
    }

    @Override
    public void close() {
        execute("drop database if exists " + name + " with (force)");
    }
}
