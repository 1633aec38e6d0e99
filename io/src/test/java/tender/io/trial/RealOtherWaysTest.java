package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.network.IpAddress;
import tender.core.openvpn.ClientSettings;
import tender.core.profile.StaticKey;
import tender.core.trial.Certainty;
import tender.core.trial.Ladder;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.OpenVpnLadder;
import tender.core.trial.OpenVpnQuestion;
import tender.core.trial.Rung;
import tender.core.trial.RungResult;
import tender.io.names.NameService;

/** A file that a real OpenVPN server does not answer, because one line of it is meant otherwise: the trial finds which. */
class RealOtherWaysTest {
    private static final String KEY = StaticKey.generate(new SecureRandom());

    @TempDir
    static Path folder;

    private static OpenVpnLab lab;

    @BeforeAll
    static void open() {
        boolean able = OpenVpnLab.able();
        if (!able) {
            System.out.println("SKIPPED: no openvpn, tun device or right to make namespaces here");
        }
        assumeTrue(able);
        lab = new OpenVpnLab(folder);
    }

    @AfterAll
    static void close() {
        if (lab != null) {
            lab.close();
        }
    }

    private static Ladder tried(String profile) {
        OpenVpnCalls made = OpenVpnCalls.run(
                OpenVpnQuestion.all(
                        profile,
                        ClientSettings.Added.NOTHING,
                        Optional.of(IpAddress.parse(Lab.INSIDE_HOST)),
                        Optional.empty(),
                        Instant.now()),
                name -> new NameService.Answer(NameService.Status.UNKNOWN, List.of()),
                MeasurementOptions.NOTHING,
                rung -> {});
        return OpenVpnLadder.judge(made.question(), made.seen(), Optional.empty());
    }

    /** {@code ;} stands for a new line, and a word in angle brackets for the key in a block of that name. */
    private static String lines(String text) {
        return text == null
                ? ""
                : text.replace(';', '\n').replaceAll("<([a-z-]+)>", "<$1>\n" + KEY.strip() + "\n</$1>") + "\n";
    }

    private static void assertCertain(Ladder ladder, String code, String told) {
        RungResult failure = ladder.failure().orElseThrow(() -> new AssertionError("it held: " + ladder));
        assertThat(failure.rung()).as(ladder.toString()).isIn(Rung.PORT, Rung.HANDSHAKE);
        assertThat(failure.causes()).as(ladder.toString()).hasSize(1);
        assertThat(failure.causes().get(0).code()).isEqualTo(code);
        assertThat(failure.causes().get(0).certainty()).isEqualTo(Certainty.CERTAIN);
        assertThat(failure.detail()).contains(told);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            udp | <tls-auth>;key-direction 0             | <tls-auth>;key-direction 0            | key-direction    | with key-direction 1
            udp | <tls-auth>;key-direction 0             | <tls-auth>                            | key-direction    | with key-direction 1
            udp | <tls-auth>                             | <tls-auth>;key-direction 1            | key-direction    | without a key-direction
            tcp | <tls-auth>;key-direction 1             | <tls-auth>;key-direction 1            | key-direction    | with key-direction 0
            udp | <tls-auth>;key-direction 0;auth SHA512 | <tls-auth>;key-direction 1;auth SHA1  | digest-differs   | with auth SHA512
            udp | <tls-auth>;key-direction 0;auth SHA256 | <tls-auth>;key-direction 1            | digest-differs   | with auth SHA256
            tcp | <tls-auth>;key-direction 0             | <tls-auth>;key-direction 1;auth SHA256 | digest-differs  | with auth SHA1
            udp | <tls-crypt>                            | <tls-auth>;key-direction 1            | control-channel-key-differs | with the key as tls-crypt
            udp | <tls-auth>;key-direction 0             | <tls-crypt>                           | control-channel-key-differs | with the key as tls-auth, key-direction 1
            udp | <tls-auth>                             | <tls-crypt>                           | control-channel-key-differs | with the key as tls-auth
            tcp | <tls-crypt>                            | <tls-auth>                            | control-channel-key-differs | with the key as tls-crypt
            udp |                                        | <tls-auth>;key-direction 1            | control-channel-key-differs | without a control-channel key
            tcp |                                        | <tls-crypt>                           | control-channel-key-differs | without a control-channel key
            """)
    void theLineThatIsMeantOtherwiseIsFound(String transport, String server, String client, String code, String told)
            throws IOException {
        lab.serve(transport, lab.server, lines(server));

        assertCertain(tried(lab.profile(transport, lab.client, lines(client))), code, told);
    }

    @ParameterizedTest
    @CsvSource({"udp,tcp,''", "tcp,udp,''", "udp,tcp,<tls-crypt>", "tcp,udp,<tls-crypt>"})
    void aServerOnTheOtherTransportIsFound(String server, String client, String controlChannelKey) throws IOException {
        lab.serve(server, lab.server, lines(controlChannelKey));
        String file = lab.profile(client, lab.client, lines(controlChannelKey));

        assertCertain(tried(file), "transport-differs", "it answers over " + server);
        assertThat(tried(file.replaceAll("(?m)^(remote .*) " + client + "$", "$1 " + server)
                                .replaceAll("(?m)^proto .*\n", ""))
                        .isProven())
                .isTrue();
    }

    @Test
    void nothingElseIsFoundWhereAnotherKeyIsWanted() throws IOException {
        lab.serve("udp", lab.server, lines("<tls-crypt>"));
        String other = lines("<tls-crypt>")
                .replace(KEY.strip(), StaticKey.generate(new SecureRandom()).strip());

        Ladder ladder = tried(lab.profile("udp", lab.client, other));

        assertThat(ladder.failure().orElseThrow().causes())
                .as(ladder.toString())
                .noneMatch(c -> c.certainty() == Certainty.CERTAIN)
                .anyMatch(c -> c.code().equals("control-channel-key-differs"));
    }

    @ParameterizedTest
    @ValueSource(strings = {"SSH-2.0-OpenSSH_9.2p1", "220 mail.skerrivane.example ESMTP", "HTTP/1.1 400 Bad Request"})
    void anotherServiceOnThePortIsTold(String greeting) throws IOException {
        boolean waits = greeting.startsWith("HTTP");
        try (ServerSocket other = new ServerSocket(0, 16, InetAddress.getLoopbackAddress())) {
            Thread server = new Thread(() -> greet(other, greeting, waits));
            server.start();
            String file = lab.profile("tcp", lab.client, "")
                    .replaceAll("(?m)^remote .*$", "remote 127.0.0.1 " + other.getLocalPort() + " tcp");

            assertCertain(tried(file), "other-service", "what answers says: " + greeting);
        }
    }

    private static void greet(ServerSocket other, String greeting, boolean waits) {
        while (!other.isClosed()) {
            try (Socket caller = other.accept();
                    OutputStream out = caller.getOutputStream()) {
                caller.setSoTimeout(5_000);
                byte[] first = new byte[3];
                if (!waits) {
                    out.write((greeting + "\r\n").getBytes(StandardCharsets.US_ASCII));
                    caller.getInputStream().readNBytes(first, 0, 3);
                } else if (caller.getInputStream().readNBytes(first, 0, 3) == 3 && first[0] == 'G') {
                    out.write((greeting + "\r\n").getBytes(StandardCharsets.US_ASCII));
                }
            } catch (IOException e) {
                continue; // the next one
            }
        }
    }

    /** Every attempt at the real server leaves a line. */
    private static Path counting() throws IOException {
        Path attempts = folder.resolve("attempts");
        Files.writeString(attempts, "");
        Files.setPosixFilePermissions(attempts, PosixFilePermissions.fromString("rw-rw-rw-"));
        Path script = Files.writeString(
                folder.resolve("count.sh"),
                "#!/bin/bash\necho attempt >> " + attempts + "\n[ \"$(tail -n 1 \"$1\")\" = harbour-lantern-7 ]\n");
        Files.setPosixFilePermissions(script, PosixFilePermissions.fromString("rwxr-xr-x"));
        lab.serve("udp", lab.server, "script-security 2\nauth-user-pass-verify " + script + " via-file\n");
        return attempts;
    }

    @Test
    void nameAndPasswordInTheFileAreUsed() throws IOException {
        Path attempts = counting();
        String inside = "<auth-user-pass>\nmara\nharbour-lantern-7\n</auth-user-pass>\n";

        assertThat(tried(lab.profile("udp", lab.client, inside)).isProven()).isTrue();
        assertThat(Files.readString(attempts)).isEqualTo("attempt\n");
    }

    @Test
    void withoutAPasswordNoLoginIsAttempted() throws IOException {
        Path attempts = counting();

        Ladder ladder = tried(lab.profile("udp", lab.client, "auth-user-pass\n"));

        RungResult failure = ladder.failure().orElseThrow();
        assertThat(failure.rung()).as(ladder.toString()).isEqualTo(Rung.AUTHENTICATION);
        assertThat(failure.causes().get(0).code()).isEqualTo("password-missing");
        assertThat(failure.detail()).contains("no login was attempted");
        assertThat(Files.readString(attempts)).isEmpty();
    }
}
