package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.certificate.Authority;
import tender.core.network.IpAddress;
import tender.core.openvpn.ClientSettings;
import tender.core.trial.Cause;
import tender.core.trial.Certainty;
import tender.core.trial.Ladder;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.OpenVpnLadder;
import tender.core.trial.OpenVpnQuestion;
import tender.core.trial.Rung;
import tender.core.trial.RungResult;
import tender.io.names.NameService;

/** Faults that a real OpenVPN server, its certificate, the clock or the line have: the cause leads to them. */
class RealOpenVpnCasesTest {
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

    private static Ladder tried(String profile, Instant now) {
        OpenVpnCalls made = OpenVpnCalls.run(
                OpenVpnQuestion.all(
                        profile,
                        ClientSettings.Added.NOTHING,
                        Optional.of(IpAddress.parse(Lab.INSIDE_HOST)),
                        Optional.empty(),
                        now),
                name -> new NameService.Answer(NameService.Status.UNKNOWN, java.util.List.of()),
                MeasurementOptions.NOTHING,
                rung -> {});
        return OpenVpnLadder.judge(made.question(), made.seen(), Optional.empty());
    }

    private static Ladder tried(String profile) {
        return tried(profile, Instant.now());
    }

    private static Cause cause(Ladder ladder, Rung rung, String code, Certainty certainty) {
        RungResult failure = ladder.failure().orElseThrow(() -> new AssertionError("it held: " + ladder));
        assertThat(failure.rung()).as(ladder.toString()).isEqualTo(rung);
        assertThat(failure.causes()).as(ladder.toString()).isNotEmpty();
        Cause first = failure.causes().get(0);
        assertThat(first.code()).as(ladder.toString()).isEqualTo(code);
        assertThat(first.certainty()).as(ladder.toString()).isEqualTo(certainty);
        return first;
    }

    @Test
    void aCertificateMadeForClientsIsNotANameToCorrectInTheFile() throws IOException {
        lab.serve("udp", lab.sign(lab.authority, Authority.Purpose.CLIENT, Lab.SERVER_NAME, 0, 30), "");

        Cause cause = cause(
                tried(lab.profile("udp", lab.client, "")), Rung.TRUST, "server-certificate-use", Certainty.CERTAIN);

        assertThat(cause.remedy()).doesNotContain("name");
    }

    @ParameterizedTest
    @CsvSource({"400, clock-differs, LIKELY", "-200, clock-differs, LIKELY", "60, server-certificate-expired, CERTAIN"})
    void whenEverythingSeemsEndedItIsTheClock(int days, String code, Certainty certainty) throws IOException {
        lab.serve("udp", lab.server, "");

        cause(
                tried(lab.profile("udp", lab.client, ""), Instant.now().plus(Duration.ofDays(days))),
                Rung.TRUST,
                code,
                certainty);
    }

    @Test
    void aKeyThatIsNotTheCertificatesIsTold() throws IOException {
        lab.serve("udp", lab.server, "");
        Lab.Pair other = lab.sign(lab.authority, Authority.Purpose.CLIENT, "mara", 0, 30);

        Ladder ladder = tried(lab.profile("udp", new Lab.Pair(lab.client.certificate(), other.pair()), ""));

        cause(ladder, Rung.AUTHENTICATION, "key-differs", Certainty.CERTAIN);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            auth SHA512                                                | auth SHA1   | digest-differs
            auth SHA256                                                |             | digest-differs
            auth SHA512                                                | auth SHA512 |
            """)
    void dataWithAnotherDigestDoesNotPass(String server, String client, String code) throws IOException {
        String cbc = "data-ciphers AES-256-CBC\n";
        lab.serve("udp", lab.server, cbc + server + "\n");
        Ladder ladder = tried(lab.profile("udp", lab.client, cbc + (client == null ? "" : client + "\n")));

        if (code == null) {
            assertThat(ladder.isProven()).as(ladder.toString()).isTrue();
        } else {
            cause(ladder, Rung.TUNNEL_ADDRESS, code, Certainty.CERTAIN);
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"mara\n", "mara\n\n"})
    void anEmptyPasswordIsNoPassword(String login) throws IOException {
        Path check =
                Files.writeString(folder.resolve("check.sh"), "#!/bin/sh\n[ \"$(tail -n 1 \"$1\")\" = harbour ]\n");
        Files.setPosixFilePermissions(check, PosixFilePermissions.fromString("rwxr-xr-x"));
        lab.serve("udp", lab.server, "script-security 2\nauth-user-pass-verify " + check + " via-file\n");

        cause(
                tried(lab.profile("udp", lab.client, "<auth-user-pass>\n" + login + "</auth-user-pass>\n")),
                Rung.AUTHENTICATION,
                "password-missing",
                Certainty.CERTAIN);
        assertThat(tried(lab.profile("udp", lab.client, "<auth-user-pass>\nmara\nharbour\n</auth-user-pass>\n"))
                        .isProven())
                .isTrue();
        cause(
                tried(lab.profile("udp", lab.client, "<auth-user-pass>\nmara\nwrong\n</auth-user-pass>\n")),
                Rung.AUTHENTICATION,
                "password-refused",
                Certainty.CERTAIN);
    }

    /** Carries a caller's first packet to the server and the answer back, and then is no more. */
    private static int dies() throws IOException {
        DatagramSocket outside = new DatagramSocket(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0));
        Thread thread = new Thread(() -> {
            try (outside;
                    DatagramSocket inside = new DatagramSocket()) {
                byte[] buffer = new byte[4096];
                DatagramPacket packet = new DatagramPacket(buffer, buffer.length);
                outside.receive(packet);
                InetSocketAddress caller = (InetSocketAddress) packet.getSocketAddress();
                inside.send(new DatagramPacket(
                        buffer, packet.getLength(), InetAddress.getByName(lab.address), OpenVpnLab.PORT));
                DatagramPacket answer = new DatagramPacket(new byte[4096], 4096);
                inside.receive(answer);
                outside.send(new DatagramPacket(answer.getData(), answer.getLength(), caller));
            } catch (IOException e) {
                throw new IllegalStateException(e);
            }
        });
        thread.setDaemon(true);
        thread.start();
        return outside.getLocalPort();
    }

    @Test
    void aServerThatAnsweredAndWentAwayIsNoShutPort() throws IOException {
        lab.serve("udp", lab.server, "");
        String file =
                lab.profile("udp", lab.client, "").replaceAll("(?m)^remote .*", "remote 127.0.0.1 " + dies() + " udp");

        cause(tried(file), Rung.TRUST, "server-gone", Certainty.CERTAIN);
    }

    @Test
    void aServerThatEndsTheConnectionInTheMiddleIsTold() throws Exception {
        lab.serve("tcp", lab.server, "");
        try (ServerSocket listener = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            Thread thread = new Thread(() -> {
                try (Socket caller = listener.accept();
                        Socket server = new Socket(lab.address, OpenVpnLab.PORT)) {
                    byte[] buffer = new byte[4096];
                    server.getOutputStream()
                            .write(buffer, 0, caller.getInputStream().read(buffer));
                    caller.getOutputStream()
                            .write(buffer, 0, server.getInputStream().read(buffer));
                } catch (IOException e) {
                    throw new IllegalStateException(e);
                }
            });
            thread.setDaemon(true);
            thread.start();
            String file = lab.profile("tcp", lab.client, "")
                    .replaceAll("(?m)^remote .*", "remote 127.0.0.1 " + listener.getLocalPort() + " tcp");

            cause(tried(file), Rung.TRUST, "server-ends", Certainty.LIKELY);
        }
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            SSH-2.0-OpenSSH_9.2;                | SSH
            HTTP/1.1 400 Bad Request;;          | HTTP
            220 mail.skerrivane.example ESMTP;  | 220
            """)
    void anotherServiceOnThePortIsToldByWhatItSays(String says, String told) throws Exception {
        try (ServerSocket listener = new ServerSocket(0, 8, InetAddress.getLoopbackAddress())) {
            Thread thread = new Thread(() -> {
                while (!listener.isClosed()) {
                    try (Socket caller = listener.accept()) {
                        caller.getOutputStream().write(says.replace(";", "\r\n").getBytes(StandardCharsets.US_ASCII));
                        caller.getOutputStream().flush();
                        caller.getInputStream().read();
                    } catch (IOException e) {
                        return;
                    }
                }
            });
            thread.setDaemon(true);
            thread.start();
            String file = lab.profile("tcp", lab.client, "")
                    .replaceAll("(?m)^remote .*", "remote 127.0.0.1 " + listener.getLocalPort() + " tcp");

            Ladder ladder = tried(file);

            cause(ladder, Rung.HANDSHAKE, "other-service", Certainty.CERTAIN);
            assertThat(ladder.failure().orElseThrow().detail()).contains(told);
        }
    }
}
