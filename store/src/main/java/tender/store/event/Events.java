package tender.store.event;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.UUID;
import java.util.function.Consumer;
import org.postgresql.PGConnection;
import org.postgresql.PGNotification;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;

/** Telling every node that something changed, by NOTIFY; a message is {@code TOPIC ID} and carries nothing else. */
public final class Events implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(Events.class);
    private static final String CHANNEL = "tender";
    private static final Duration WAIT = Duration.ofMillis(500);
    private static final Duration PAUSE_AFTER_FAILURE = Duration.ofSeconds(1);

    private final Db db;
    private final Consumer<String> heard;
    private final Thread thread;
    private volatile boolean closed;
    private volatile Connection listening;

    private Events(Db db, Consumer<String> heard) {
        this.db = db;
        this.heard = heard;
        this.thread = new Thread(this::run, "events");
        thread.setDaemon(true);
    }

    /** Says it when the transaction commits. */
    public static void say(Tx tx, String topic, UUID id) {
        say(tx, topic, id.toString());
    }

    /** Says it when the transaction commits. */
    public static void say(Tx tx, String topic, String id) {
        tx.say(CHANNEL, topic + " " + id);
    }

    /** Listens on a connection of its own until closed; connects again when it breaks. {@code heard} runs on its thread. */
    public static Events listen(Db db, Consumer<String> heard) {
        Events events = new Events(db, heard);
        events.thread.start();
        return events;
    }

    private void run() {
        while (!closed) {
            try (Connection connection = db.ownConnection();
                    Statement statement = connection.createStatement()) {
                listening = connection;
                statement.execute("listen " + CHANNEL);
                heard.accept("reconnected -");
                PGConnection notified = connection.unwrap(PGConnection.class);
                while (!closed) {
                    PGNotification[] all = notified.getNotifications((int) WAIT.toMillis());
                    for (PGNotification one : all == null ? new PGNotification[0] : all) {
                        heard.accept(one.getParameter());
                    }
                }
            } catch (SQLException e) {
                if (!closed) {
                    LOG.warn("listening for events: SQLSTATE {}; trying again", e.getSQLState());
                    pause();
                }
            }
        }
    }

    private void pause() {
        synchronized (thread) {
            try {
                if (!closed) {
                    thread.wait(PAUSE_AFTER_FAILURE.toMillis());
                }
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                closed = true;
            }
        }
    }

    @Override
    public void close() {
        closed = true;
        synchronized (thread) {
            thread.notifyAll();
        }
        Connection connection = listening;
        try {
            if (connection != null) {
                connection.abort(Runnable::run); // it waits for notifications
            }
            thread.join(Duration.ofSeconds(2).toMillis());
        } catch (SQLException e) {
            LOG.debug("the connection that listened had ended: SQLSTATE {}", e.getSQLState());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
