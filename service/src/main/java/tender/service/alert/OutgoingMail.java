package tender.service.alert;

import jakarta.mail.MessagingException;
import java.io.IOException;
import java.time.Clock;
import java.util.Optional;
import tender.io.alert.Mail;
import tender.io.names.NameService;

/** Mail by the server that the settings name. */
public final class OutgoingMail {
    private final Optional<Mail> server;
    private final NameService names;
    private final Clock clock;

    public OutgoingMail(Optional<Mail> server, NameService names, Clock clock) {
        this.server = server;
        this.names = names;
        this.clock = clock;
    }

    /** Whether there is a server that takes mail. */
    public boolean isSet() {
        return server.isPresent();
    }

    /**
     * Sends one mail; waits until the server has taken it.
     *
     * @throws MessagingException with the server's own words where it does not take it
     * @throws IOException where the server may not be called
     */
    public void send(String to, String subject, String text) throws MessagingException, IOException {
        Mail mail = server.orElseThrow(() -> new IOException("no mail server is set: mail.server"));
        Callable.check(mail.host(), names);
        mail.send(to, subject, text, clock.instant());
    }
}
