package tender.standins.mail;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.CopyOnWriteArrayList;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Takes every mail on loopback (RFC 5321, the least of it) and keeps it as text. */
public final class MailSink implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(MailSink.class);
    private static final int WAIT_MILLIS = 10_000;

    private final ServerSocket socket;
    private final List<String> mails = new CopyOnWriteArrayList<>();

    public MailSink(int port) throws IOException {
        socket = new ServerSocket();
        socket.bind(new InetSocketAddress(InetAddress.getLoopbackAddress(), port));
        Thread thread = new Thread(this::run, "mail-sink");
        thread.setDaemon(true);
        thread.start();
    }

    public int port() {
        return socket.getLocalPort();
    }

    /** Every mail with its headers, in the order they came. */
    public List<String> mails() {
        return List.copyOf(mails);
    }

    private void run() {
        while (!socket.isClosed()) {
            try (Socket caller = socket.accept()) {
                caller.setSoTimeout(WAIT_MILLIS);
                speak(caller);
            } catch (IOException e) {
                if (!socket.isClosed()) {
                    LOG.info("mail: {}", e.getMessage());
                }
            }
        }
    }

    private void speak(Socket caller) throws IOException {
        BufferedReader in = new BufferedReader(new InputStreamReader(caller.getInputStream(), StandardCharsets.UTF_8));
        OutputStream out = caller.getOutputStream();
        say(out, "220 mail-sink");
        for (String line = in.readLine(); line != null; line = in.readLine()) {
            String verb = line.length() < 4 ? line : line.substring(0, 4).toUpperCase(Locale.ROOT);
            switch (verb) {
                case "DATA" -> {
                    say(out, "354 go on");
                    StringBuilder mail = new StringBuilder();
                    for (String l = in.readLine(); l != null && !l.equals("."); l = in.readLine()) {
                        mail.append(l.startsWith(".") ? l.substring(1) : l).append('\n');
                    }
                    mails.add(mail.toString());
                    say(out, "250 taken");
                }
                case "QUIT" -> {
                    say(out, "221 bye");
                    return;
                }
                default -> say(out, "250 ok");
            }
        }
    }

    private static void say(OutputStream out, String line) throws IOException {
        out.write((line + "\r\n").getBytes(StandardCharsets.US_ASCII));
        out.flush();
    }

    @Override
    public void close() throws IOException {
        socket.close();
    }
}
