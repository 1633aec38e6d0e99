package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.io.OutputStream;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.trial.Cause;
import tender.core.trial.Certainty;
import tender.core.trial.Ladder;
import tender.core.trial.ProbeLadder;
import tender.core.trial.ProbeSeen;
import tender.core.trial.ReachabilityProbe;
import tender.core.trial.Rung;
import tender.core.trial.RungResult;
import tender.core.trial.Verdict;
import tender.io.names.NameService;

/** Listeners that only their own clients can go through: probed, with Debian's openssl and strongSwan behind the server. */
class ProbeTrialTest {
    private static final String NAME = "gate.skerrivane.example";
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final NameService HERE =
            name -> new NameService.Answer(NameService.Status.FOUND, List.of(IpAddress.parse("127.0.0.1")));

    @TempDir
    Path folder;

    private final Instant now = Instant.now();
    private final Authority authority = authority("Skerrivane Ferries");

    private Authority authority(String name) {
        return Authority.make(
                name,
                CertificateKey.generate(CertificateKey.Kind.RSA_2048, RANDOM),
                now.minus(Duration.ofDays(100)),
                now.plus(Duration.ofDays(300)),
                RANDOM);
    }

    /** Debian's openssl as a TLS server on a port that was free. */
    private final class TlsServer implements AutoCloseable {
        private final Process process;
        private final int port;

        private TlsServer(String name, int endsInDays, String... more) throws IOException {
            this(pem(name, endsInDays), more);
        }

        private TlsServer(Path pem, String... more) throws IOException {
            port = freePort();
            List<String> words = new ArrayList<>(List.of(
                    "openssl",
                    "s_server",
                    "-quiet",
                    "-accept",
                    "127.0.0.1:" + port,
                    "-cert",
                    pem.toString(),
                    "-key",
                    pem.toString()));
            words.addAll(List.of(more));
            process = new ProcessBuilder(words)
                    .redirectErrorStream(true)
                    .redirectOutput(folder.resolve("server.out").toFile())
                    .start();
            Shell.until("openssl to listen", Duration.ofSeconds(10), () -> {
                try (Socket probe = new Socket(InetAddress.getLoopbackAddress(), port)) {
                    return probe.isConnected();
                } catch (IOException e) {
                    return false;
                }
            });
        }

        @Override
        public void close() {
            process.destroyForcibly();
        }
    }

    private Path pem(String name, int endsInDays) throws IOException {
        CertificateKey key = CertificateKey.generate(CertificateKey.Kind.RSA_2048, RANDOM);
        byte[] certificate = authority.sign(
                Authority.Purpose.SERVER,
                name,
                List.of(name),
                key.publicKey(),
                now.minus(Duration.ofDays(90)),
                now.plus(Duration.ofDays(endsInDays)),
                Optional.empty(),
                RANDOM);
        return Files.writeString(
                folder.resolve("server.pem"),
                PemText.write("CERTIFICATE", certificate)
                        + PemText.write("PRIVATE KEY", key.privateKey().reveal(RevealSecret.TO_WRITE_FILE)));
    }

    private static int freePort() throws IOException {
        try (ServerSocket free = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            return free.getLocalPort();
        }
    }

    private Ladder tls(int port, String wanted, Authority... believed) {
        ReachabilityProbe probe = new ReachabilityProbe(
                ReachabilityProbe.Kind.TLS,
                new Endpoint(Host.parse(wanted), new Port(port), Transport.TCP),
                Optional.of(wanted),
                List.of(believed).stream().map(Authority::certificate).toList(),
                now.plusSeconds(60)); // what openssl signed a moment ago counts by then
        return ProbeLadder.judge(probe, new ProbeTrial(probe, HERE).run(), Optional.empty());
    }

    private static RungResult rung(Ladder ladder, Rung rung) {
        return ladder.rungs().stream().filter(r -> r.rung() == rung).findFirst().orElseThrow();
    }

    private static void assertFails(Ladder ladder, Rung rung, String code, Certainty certainty) {
        RungResult failure = ladder.failure().orElseThrow(() -> new AssertionError("it held: " + ladder));
        assertThat(failure.rung()).as(ladder.toString()).isEqualTo(rung);
        assertThat(failure.causes().get(0).code()).as(ladder.toString()).isEqualTo(code);
        assertThat(failure.causes().get(0).certainty()).as(ladder.toString()).isEqualTo(certainty);
    }

    @Test
    void aSoundTlsListenerHoldsUpToTrustAndIsNoProofOfGettingIn() throws IOException {
        try (TlsServer server = new TlsServer(NAME, 60)) {
            Ladder ladder = tls(server.port, NAME, authority);

            assertThat(ladder.failure()).as(ladder.toString()).isEmpty();
            assertThat(rung(ladder, Rung.HANDSHAKE).detail()).isEqualTo("TLS 1.3, TLS 1.2");
            assertThat(rung(ladder, Rung.TRUST).detail()).contains(NAME, "until");
            assertThat(rung(ladder, Rung.AUTHENTICATION).verdict()).isEqualTo(Verdict.NOT_TRIED);
            assertThat(ladder.isProven()).isFalse();
        }
    }

    @Test
    void versionsThatAreBrokenAreTold() throws IOException {
        try (TlsServer server = new TlsServer(NAME, 60, "-tls1_1", "-cipher", "DEFAULT@SECLEVEL=0")) {
            Ladder ladder = tls(server.port, NAME, authority);

            assertThat(rung(ladder, Rung.HANDSHAKE).detail()).contains("TLS 1.1", "switch them off");
            assertThat(rung(ladder, Rung.HANDSHAKE).detail()).doesNotContain("TLS 1.2,", "TLS 1.3");
        }
    }

    @ParameterizedTest
    @CsvSource({
        "other.skerrivane.example,60,server-name-differs,CERTAIN",
        "gate.skerrivane.example,-1,server-certificate-expired,CERTAIN"
    })
    void certificatesThatDoNotFitFailAtTrust(String name, int ends, String code, Certainty certainty)
            throws IOException {
        try (TlsServer server = new TlsServer(name, ends)) {
            assertFails(tls(server.port, NAME, authority), Rung.TRUST, code, certainty);
        }
    }

    /** Signed by itself, so that the name alone makes the difference. */
    @Test
    void oneCertificateForADomainFitsEachOfItsNames() throws IOException {
        Path pem = folder.resolve("wild.pem");
        Shell.need(
                "bash",
                "-c",
                "openssl req -x509 -newkey rsa:2048 -nodes -days 30 -subj '/CN=any' -addext 'subjectAltName=DNS:*.skerrivane.example'"
                        + " -keyout " + pem + " -out " + pem + ".crt && cat " + pem + ".crt >> " + pem);
        try (TlsServer server = new TlsServer(pem)) {
            Ladder fits = tls(server.port, NAME, authority);
            Ladder other = tls(server.port, "a.b.skerrivane.example", authority);

            assertFails(fits, Rung.TRUST, "server-self-signed", Certainty.CERTAIN);
            assertThat(rung(fits, Rung.TRUST).detail()).doesNotContain("it says");
            assertThat(rung(other, Rung.TRUST).causes())
                    .as("both faults are told")
                    .extracting(Cause::code)
                    .containsExactly("server-self-signed", "server-name-differs");
        }
    }

    @Test
    void aCertificateOfAnotherAuthorityFailsAtTrust() throws IOException {
        try (TlsServer server = new TlsServer(NAME, 60)) {
            assertFails(
                    tls(server.port, NAME, authority("Another")),
                    Rung.TRUST,
                    "server-foreign-authority",
                    Certainty.LIKELY);
        }
    }

    @Test
    void aClosedPortIsRefused() throws IOException {
        assertFails(tls(freePort(), NAME, authority), Rung.PORT, "port-refused", Certainty.LIKELY);
    }

    /** Sends noise without end, or a byte of a promised record now and then. */
    @ParameterizedTest
    @CsvSource({"true", "false"})
    void aHostileOrDraggingServerEndsInTime(boolean flood) throws IOException {
        try (ServerSocket hostile = new ServerSocket(0, 16, InetAddress.getLoopbackAddress())) {
            new Thread(() -> serve(hostile, flood)).start();
            long began = System.nanoTime();

            Ladder ladder = tls(hostile.getLocalPort(), NAME, authority);

            assertThat(Duration.ofNanos(System.nanoTime() - began)).isLessThan(ProbeTrial.ANSWER_WAIT.plusSeconds(3));
            assertFails(ladder, Rung.HANDSHAKE, "no-tls", Certainty.POSSIBLE);
        }
    }

    private static void serve(ServerSocket hostile, boolean flood) {
        // a handshake record of the greatest length, whose content never ends
        byte[] head = {22, 3, 3, 0x40, 0, 2, (byte) 0xff, (byte) 0xff, (byte) 0xff};
        while (!hostile.isClosed()) {
            try (Socket caller = hostile.accept()) {
                OutputStream out = caller.getOutputStream();
                out.write(head);
                caller.setSoTimeout(200);
                while (true) {
                    out.write(new byte[flood ? 65_536 : 1]);
                    if (!flood) {
                        drag(caller);
                    }
                }
            } catch (IOException e) {
                continue; // the caller had enough
            }
        }
    }

    /** Waits for whatever the caller says, a fifth of a second at most. */
    private static void drag(Socket caller) throws IOException {
        try {
            if (caller.getInputStream().read() < 0) {
                throw new IOException("gone");
            }
        } catch (java.net.SocketTimeoutException e) {
            return; // it says nothing, and gets its next byte
        }
    }

    @Test
    void strongSwanAnswersTheFirstMessageOfVersionOne() throws IOException {
        boolean able = IkeLab.able();
        if (!able) {
            System.out.println("SKIPPED: no strongSwan with its plugins, tun device or right to make namespaces here");
        }
        assumeTrue(able);
        try (IkeLab lab = new IkeLab(folder.resolve("lab"))) {
            lab.serveVersionOne("aes256-sha1-modp2048");
            Ladder taken = l2tp(lab.address);
            lab.serveVersionOne("aes256-sha512-modp4096");
            Ladder nothing = l2tp(lab.address);

            assertThat(taken.failure()).as(taken + "\n" + lab.log()).isEmpty();
            assertThat(rung(taken, Rung.HANDSHAKE).detail())
                    .contains("AES-256, SHA-1, group 14, shared secret", "udp 4500 answers too");
            assertThat(rung(nothing, Rung.HANDSHAKE).detail()).contains("takes nothing that built-in clients offer");
        }
    }

    private Ladder l2tp(String address) {
        ReachabilityProbe probe = new ReachabilityProbe(
                ReachabilityProbe.Kind.L2TP,
                new Endpoint(Host.parse(address), new Port(500), Transport.UDP),
                Optional.empty(),
                List.of(),
                now);
        ProbeSeen seen = new ProbeTrial(probe, HERE).run();
        return ProbeLadder.judge(probe, seen, Optional.empty());
    }

    @Test
    void garbageIsNoAnswer() throws Exception {
        try (DatagramSocket garbage = new DatagramSocket(0, InetAddress.getLoopbackAddress())) {
            AtomicInteger asked = new AtomicInteger();
            Thread answering = new Thread(() -> {
                byte[] in = new byte[2_000];
                while (!garbage.isClosed()) {
                    try {
                        DatagramPacket packet = new DatagramPacket(in, in.length);
                        garbage.receive(packet);
                        asked.incrementAndGet();
                        byte[] noise = new byte[RANDOM.nextInt(200)];
                        RANDOM.nextBytes(noise);
                        if (noise.length > 8) {
                            System.arraycopy(in, 0, noise, 0, 8); // the caller's own cookie, then nonsense
                        }
                        garbage.send(new DatagramPacket(noise, noise.length, packet.getSocketAddress()));
                    } catch (IOException e) {
                        return; // closed: the test is over
                    }
                }
            });
            answering.start();
            ReachabilityProbe probe = new ReachabilityProbe(
                    ReachabilityProbe.Kind.L2TP,
                    new Endpoint(Host.parse("127.0.0.1"), new Port(garbage.getLocalPort()), Transport.UDP),
                    Optional.empty(),
                    List.of(),
                    now);

            Ladder ladder = ProbeLadder.judge(probe, new ProbeTrial(probe, HERE).run(), Optional.empty());

            assertFails(ladder, Rung.HANDSHAKE, "filtered", Certainty.LIKELY);
            assertThat(asked.get()).as("garbage makes nothing more go out").isBetween(2, 8);
        }
    }
}
