package tender.store.testing;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import org.flywaydb.core.Flyway;
import tender.core.credential.RevealSecret;
import tender.store.jdbc.Db;

/** A database with the tables of this version, which those of the tests are copies of: made once for each server. */
final class Template {
    private static final String NAME = "tender_template";
    private static final long LOCK = 7_230_491L;
    /** Looked at once in each program. */
    private static volatile boolean known;

    private Template() {}

    /**
     * Makes a database as a copy of the template, and the template before where it is missing or of another version. One program at a
     * time: PostgreSQL copies no database that somebody is connected to.
     */
    static void copy(String server, String adminPassword, String name) {
        try (Connection admin = DriverManager.getConnection(server + "postgres", "tender_admin", adminPassword);
                Statement statement = admin.createStatement()) {
            statement.execute("select pg_advisory_lock(" + LOCK + ")");
            if (!known) {
                make(server, statement);
                known = true;
            }
            statement.execute("create database " + name + " owner tender_owner template " + NAME);
        } catch (SQLException e) {
            throw new IllegalStateException("no copy of the template", e);
        }
    }

    private static void make(String server, Statement statement) throws SQLException {
        boolean there;
        try (var rows = statement.executeQuery("select 1 from pg_database where datname = '" + NAME + "'")) {
            there = rows.next();
        }
        if (!there || !isOfThisVersion(server)) {
            statement.execute("drop database if exists " + NAME + " with (force)");
            statement.execute("create database " + NAME + " owner tender_owner");
            Db.open(place(server, "tender"), place(server, "tender_owner"), "tender_staff")
                    .close();
        }
    }

    private static boolean isOfThisVersion(String server) {
        Db.Place owner = place(server, "tender_owner");
        Flyway flyway = Flyway.configure()
                .dataSource(owner.url(), owner.user(), owner.password().revealText(RevealSecret.TO_SIGN_IN))
                .locations("classpath:db/migration")
                .load();
        return flyway.validateWithResult().validationSuccessful && flyway.info().pending().length == 0;
    }

    private static Db.Place place(String server, String role) {
        return TestDatabase.place(server + NAME, role);
    }
}
