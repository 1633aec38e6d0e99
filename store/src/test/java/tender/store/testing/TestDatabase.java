package tender.store.testing;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.UUID;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.store.jdbc.Db;

/** A fresh database on the server that {@code ./test} starts, dropped when closed. */
public final class TestDatabase implements AutoCloseable {
    private static final String URL = System.getenv("TENDER_TEST_DATABASE");

    private final String name = "t" + UUID.randomUUID().toString().replace("-", "");
    private final Secret password;

    public TestDatabase() {
        if (URL == null) {
            throw new IllegalStateException("no database for tests; run ./test, or ./test MODULE");
        }
        try {
            password = Secret.of(Files.readAllLines(passwordFile()).get(0));
        } catch (IOException e) {
            throw new IllegalStateException("the test database's password cannot be read", e);
        }
        execute("create database " + name);
    }

    public static Path passwordFile() {
        return Path.of(System.getenv("TENDER_TEST_DATABASE_PASSWORD_FILE"));
    }

    public String url() {
        return URL + name;
    }

    public Db open() {
        return Db.open(new Db.Place(url(), "tender", password, 8, Duration.ofSeconds(5)));
    }

    /** Runs a statement as the server's owner. */
    public void execute(String sql) {
        try (Connection connection = DriverManager.getConnection(
                        URL + "postgres", "tender", password.revealText(RevealSecret.TO_SIGN_IN));
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
