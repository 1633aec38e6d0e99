package tender.io.alert;

import jakarta.mail.Message;
import jakarta.mail.MessagingException;
import jakarta.mail.Session;
import jakarta.mail.Transport;
import jakarta.mail.internet.InternetAddress;
import jakarta.mail.internet.MimeMessage;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Date;
import java.util.Properties;

/** Sends plain text over SMTP (RFC 5321), within ten seconds for each step; TLS by STARTTLS (RFC 3207), its certificate checked. */
public record Mail(String host, int port, String from, StartTls startTls) {
    private static final String TIMEOUT_MILLIS = "10000";

    /** Whether mail goes by TLS alone, by TLS where the server offers it, or in clear. */
    public enum StartTls {
        REQUIRED,
        OFFERED,
        NONE
    }

    /** Throws with the server's own words where it does not take the mail. */
    public void send(String to, String subject, String text, Instant now) throws MessagingException {
        Properties p = new Properties();
        p.setProperty("mail.smtp.host", host);
        p.setProperty("mail.smtp.port", Integer.toString(port));
        p.setProperty("mail.smtp.starttls.enable", Boolean.toString(startTls != StartTls.NONE));
        p.setProperty("mail.smtp.starttls.required", Boolean.toString(startTls == StartTls.REQUIRED));
        p.setProperty("mail.smtp.ssl.checkserveridentity", "true");
        p.setProperty("mail.smtp.timeout", TIMEOUT_MILLIS);
        p.setProperty("mail.smtp.connectiontimeout", TIMEOUT_MILLIS);
        p.setProperty("mail.smtp.writetimeout", TIMEOUT_MILLIS);
        MimeMessage message = new MimeMessage(Session.getInstance(p));
        message.setFrom(new InternetAddress(from));
        message.setRecipients(Message.RecipientType.TO, InternetAddress.parse(to));
        message.setSubject(subject.replaceAll("[\\r\\n]+", " "), StandardCharsets.UTF_8.name());
        message.setText(text, StandardCharsets.UTF_8.name());
        message.setSentDate(Date.from(now));
        Transport.send(message);
    }
}
