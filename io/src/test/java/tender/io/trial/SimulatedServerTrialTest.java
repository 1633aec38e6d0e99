package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.ike.IkeSettings;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.network.Transport;
import tender.core.openvpn.ClientSettings;
import tender.core.profile.IkeConnection;
import tender.core.profile.IkeProfile;
import tender.core.profile.StaticKey;
import tender.core.trial.Exit;
import tender.core.trial.IkeLadder;
import tender.core.trial.IkeQuestion;
import tender.core.trial.Ladder;
import tender.core.trial.Measured;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.OpenVpnLadder;
import tender.core.trial.OpenVpnQuestion;
import tender.core.trial.Rung;
import tender.core.trial.Stun;
import tender.io.names.NameService;
import tender.standins.device.Faults;
import tender.standins.device.Journal;
import tender.standins.listener.Callers;
import tender.standins.listener.InsideWorld;
import tender.standins.listener.SimulatedIkeServer;
import tender.standins.listener.SimulatedListener;
import tender.standins.listener.SimulatedOpenVpnServer;
import tender.standins.outside.StunServer;

/** Trials against the simulated listeners, and the real programs as callers of the same. */
class SimulatedServerTrialTest {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final String SERVER = "orrin.skerrivane.example";
    private static final IpAddress HOST = IpAddress.parse("10.20.0.20");
    private static final NameService NAMES = name -> new NameService.Answer(NameService.Status.UNKNOWN, List.of());

    private final Faults faults = new Faults();
    private final Journal journal = new Journal();
    private final Authority authority = Authority.make(
            "Skerrivane Ferries",
            CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM),
            Instant.now().minus(Duration.ofDays(9)),
            Instant.now().plus(Duration.ofDays(99)),
            RANDOM);
    private SimulatedListener listener;

    @TempDir
    Path folder;

    @AfterEach
    void close() throws IOException {
        if (listener != null) {
            listener.close();
        }
    }

    private record Pair(byte[] certificate, CertificateKey key) {
        ClientSettings.Identity identity() {
            return new ClientSettings.Identity(List.of(certificate), key);
        }

        String pem() {
            return PemText.write("CERTIFICATE", certificate);
        }

        String keyPem() {
            return PemText.write("PRIVATE KEY", key.privateKey().reveal(RevealSecret.TO_WRITE_FILE));
        }
    }

    private Pair sign(Authority.Purpose purpose, String name) {
        CertificateKey key = CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
        return new Pair(
                authority.sign(
                        purpose,
                        name,
                        List.of(name),
                        key.publicKey(),
                        Instant.now().minusSeconds(60),
                        Instant.now().plus(Duration.ofDays(9)),
                        Optional.empty(),
                        RANDOM),
                key);
    }

    private InsideWorld world(String outside) throws IOException {
        return new InsideWorld(
                Set.of(HOST),
                IpAddress.parse("10.20.0.53"),
                Map.of("files.skerrivane.example", HOST),
                InetAddress.getByName(outside),
                faults);
    }

    private Callers callers(Set<String> revoked) {
        return new Callers(
                List.of(authority.certificate()),
                revoked,
                Optional.empty(),
                Map.of("mara", Secret.of("harbour-lantern-7")));
    }

    private SimulatedOpenVpnServer openVpn(
            String at, Transport transport, String controlChannelKey, String key, boolean password, Set<String> revoked)
            throws IOException {
        SimulatedOpenVpnServer out = SimulatedOpenVpnServer.start(
                new SimulatedOpenVpnServer.Setup(
                        "staff",
                        transport,
                        new InetSocketAddress(at, 0),
                        sign(Authority.Purpose.SERVER, SERVER).identity(),
                        controlChannelKey,
                        key,
                        "SHA256",
                        List.of("AES-256-GCM", "CHACHA20-POLY1305"),
                        true,
                        password,
                        false,
                        Cidr.parse("10.99.0.0/24"),
                        List.of(Cidr.parse("10.20.0.0/24")),
                        Optional.of(IpAddress.parse("10.20.0.53")),
                        callers(revoked)),
                world(at),
                faults,
                journal);
        listener = out;
        return out;
    }

    private String file(String at, int port, String transport, Pair own, String lines) {
        return "client\ndev tun\nnobind\nremote " + at + " " + port + " " + transport
                + "\nremote-cert-tls server\nverify-x509-name " + SERVER + " name\n" + lines + "<ca>\n"
                + PemText.write("CERTIFICATE", authority.certificate()) + "</ca>\n<cert>\n" + own.pem()
                + "</cert>\n<key>\n" + own.keyPem() + "</key>\n";
    }

    private static String wrap(String kind, String key) {
        return kind.equals("none")
                ? ""
                : (kind.equals("auth") ? "key-direction 1\nauth SHA256\n" : "") + "<tls-" + kind + ">\n" + key
                        + "</tls-" + kind + ">\n";
    }

    /** What the other side writes down, it writes in its own time. */
    private void until(String... words) {
        Shell.until(
                String.join(", ", words) + " in " + journal.text(),
                Duration.ofSeconds(10),
                () -> List.of(words).stream().allMatch(journal.text()::contains));
    }

    private static ClientSettings.Added mara(String password) {
        return new ClientSettings.Added(
                Optional.of(new ClientSettings.Login("mara", Secret.of(password))), Optional.empty());
    }

    private static Ladder tried(String file, ClientSettings.Added added) {
        OpenVpnQuestion question = OpenVpnQuestion.of(file, added, Optional.of(HOST), Optional.empty(), Instant.now());
        return OpenVpnLadder.judge(
                question,
                new OpenVpnTrial(question, NAMES, MeasurementOptions.NOTHING, rung -> {}).run(),
                Optional.empty());
    }

    @ParameterizedTest
    @CsvSource({"UDP,none", "UDP,auth", "UDP,crypt", "TCP,none", "TCP,crypt"})
    void anOpenVpnListenerLetsTheRightOnesInAndReaches(Transport transport, String controlChannelKey) throws Exception {
        String key = StaticKey.generate(RANDOM);
        Pair gone = sign(Authority.Purpose.CLIENT, "gone");
        SimulatedOpenVpnServer speaker = openVpn(
                "127.0.0.1",
                transport,
                controlChannelKey,
                key,
                true,
                Set.of(CertificateFacts.of(gone.certificate()).serial()));
        String proto = transport.word();
        Pair own = sign(Authority.Purpose.CLIENT, "mara");
        String lines = "auth-user-pass\n" + wrap(controlChannelKey, key);
        String right = file("127.0.0.1", speaker.port(), proto, own, lines);

        Ladder ladder = tried(right, mara("harbour-lantern-7"));

        assertThat(ladder.isProven()).as(ladder + journal.text()).isTrue();
        until("mara connected", "mara said goodbye");
        assertThat(tried(right, mara("wrong"))
                        .failure()
                        .orElseThrow()
                        .causes()
                        .get(0)
                        .code())
                .isEqualTo("password-refused");
        Ladder refused = tried(file("127.0.0.1", speaker.port(), proto, gone, lines), mara("harbour-lantern-7"));
        assertThat(refused.failure().orElseThrow().rung()).isEqualTo(Rung.AUTHENTICATION);
        until("gone: VERIFY ERROR: certificate revoked");
    }

    @Test
    void whatWasAskedForIsMeasuredThroughTheTunnel() throws Exception {
        String key = StaticKey.generate(RANDOM);
        SimulatedOpenVpnServer speaker = openVpn("127.66.0.1", Transport.UDP, "crypt", key, false, Set.of());
        String file =
                file("127.66.0.1", speaker.port(), "udp", sign(Authority.Purpose.CLIENT, "mara"), wrap("crypt", key))
                        + "redirect-gateway def1\n";
        OpenVpnQuestion question = OpenVpnQuestion.of(
                file, ClientSettings.Added.NOTHING, Optional.of(HOST), Optional.empty(), Instant.now());
        try (StunServer stun = new StunServer(new InetSocketAddress("127.66.9.9", Stun.PORT))) {
            OpenVpnTrial trial = new OpenVpnTrial(
                    question,
                    NAMES,
                    new MeasurementOptions(
                            20,
                            true,
                            Optional.of(HostName.parse("files.skerrivane.example")),
                            Optional.of(IpAddress.parse("127.66.9.9")),
                            true),
                    rung -> {});
            trial.run();

            Measured m = trial.measured().orElseThrow();
            assertThat(m.millis()).hasSize(20);
            assertThat(m.loss()).isZero();
            assertThat(m.largestPacket()).contains(1_500);
            assertThat(m.name().orElseThrow().address()).contains(HOST);
            Exit exit = m.exit().orElseThrow();
            assertThat(stun.answered()).as("asked outside the tunnel").isPositive();
            assertThat(exit.asClaimed()).isTrue();
            assertThat(exit.through()).contains(IpAddress.parse("127.66.0.1"));
            assertThat(exit.words())
                    .startsWith("full tunnel: the outside sees 127.66.0.1; without the tunnel it sees 127.");
            assertThat(m.transfer().orElseThrow().bytes()).isGreaterThan(900_000);
        }
    }

    private SimulatedIkeServer ike(String at, int port, int natPort, Set<String> revoked) throws IOException {
        SimulatedIkeServer out = SimulatedIkeServer.start(
                new SimulatedIkeServer.Setup(
                        "phones",
                        InetAddress.getByName(at),
                        port,
                        natPort,
                        SERVER,
                        sign(Authority.Purpose.SERVER, SERVER).identity(),
                        Cidr.parse("10.98.0.0/24"),
                        List.of(Cidr.parse("10.20.0.0/24")),
                        Optional.of(IpAddress.parse("10.20.0.53")),
                        Optional.of(Secret.of("one-for-all")),
                        callers(revoked)),
                world(at),
                faults,
                journal);
        listener = out;
        return out;
    }

    private String section(String at, IkeConnection.Proof proof, Pair own) {
        return new IkeProfile(
                        new IkeConnection(
                                        "orrin",
                                        Host.parse(at),
                                        SERVER,
                                        proof,
                                        "mara",
                                        Optional.ofNullable(own).map(o -> "mara.pem"),
                                        Optional.of("authority.pem"),
                                        List.of(Cidr.parse("10.20.0.0/24")))
                                .swanctl(),
                        Optional.ofNullable(own).map(Pair::pem),
                        Optional.ofNullable(own).map(Pair::keyPem).map(Secret::of),
                        Optional.of(PemText.write("CERTIFICATE", authority.certificate())))
                .text();
    }

    private static Ladder ikeTried(String profile, IkeSettings.Added added) {
        IkeQuestion question = IkeQuestion.of(profile, added, Optional.empty(), Optional.of(HOST), Instant.now());
        return IkeLadder.judge(
                question,
                new IkeTrial(question, NAMES, MeasurementOptions.NOTHING, rung -> {}).run(),
                Optional.empty());
    }

    @Test
    void anIkeListenerLetsTheRightOnesInByAllThreeWays() throws Exception {
        Pair gone = sign(Authority.Purpose.CLIENT, "mara");
        int port = 35_001;
        ike(
                "127.66.0.2",
                port,
                port + 1,
                Set.of(CertificateFacts.of(gone.certificate()).serial()));
        String to = "127.66.0.2\nremote_port = " + (port + 1);
        Pair own = sign(Authority.Purpose.CLIENT, "mara");
        IkeSettings.Added none = IkeSettings.Added.NOTHING;

        for (Map.Entry<String, IkeSettings.Added> right : Map.of(
                        section("127.66.0.2", IkeConnection.Proof.CERTIFICATE, own),
                        none,
                        section("127.66.0.2", IkeConnection.Proof.PASSWORD, null),
                        secret("harbour-lantern-7"),
                        section("127.66.0.2", IkeConnection.Proof.SHARED_SECRET, null),
                        secret("one-for-all"))
                .entrySet()) {
            Ladder ladder = ikeTried(right.getKey().replaceFirst("127.66.0.2", to), right.getValue());
            assertThat(ladder.isProven()).as(ladder + journal.text()).isTrue();
        }
        until("mara connected", "said goodbye");
        Ladder wrong = ikeTried(
                section("127.66.0.2", IkeConnection.Proof.PASSWORD, null).replaceFirst("127.66.0.2", to),
                secret("wrong"));
        assertThat(wrong.failure().orElseThrow().causes().get(0).code()).isEqualTo("password-refused");
        Ladder revoked = ikeTried(
                section("127.66.0.2", IkeConnection.Proof.CERTIFICATE, gone).replaceFirst("127.66.0.2", to), none);
        assertThat(revoked.failure().orElseThrow().rung()).isEqualTo(Rung.AUTHENTICATION);
        assertThat(journal.text()).contains("certificate revoked");
    }

    private static IkeSettings.Added secret(String text) {
        return new IkeSettings.Added(Optional.empty(), Optional.of(Secret.of(text)));
    }

    /** The real client in a namespace of its own calls a simulated listener and pings through it. */
    @Test
    void theRealOpenVpnClientReachesAnInsideHostThroughASimulatedListener() throws Exception {
        boolean able = OpenVpnLab.able();
        if (!able) {
            System.out.println("SKIPPED: no openvpn, tun device or right to make network namespaces here");
        }
        assumeTrue(able);
        try (Lab lab = new Space(folder, "so", 216)) {
            String here = lab.address.replaceAll("\\.2$", ".1");
            String key = StaticKey.generate(RANDOM);
            SimulatedOpenVpnServer speaker = openVpn(here, Transport.UDP, "crypt", key, false, Set.of());
            Path file = Files.writeString(
                    folder.resolve("real.ovpn"),
                    file(here, speaker.port(), "udp", sign(Authority.Purpose.CLIENT, "mara"), wrap("crypt", key)));
            Shell.need(
                    "ip",
                    "netns",
                    "exec",
                    lab.space,
                    "openvpn",
                    "--config",
                    file.toString(),
                    "--daemon",
                    "--log",
                    folder.resolve("real.log").toString(),
                    "--writepid",
                    folder.resolve("real.pid").toString());
            try {
                Shell.until(
                        "a ping through the tunnel",
                        Duration.ofSeconds(20),
                        () -> Shell.run("ip", "netns", "exec", lab.space, "ping", "-c", "1", "-W", "1", HOST.toString())
                                        .code()
                                == 0);
            } catch (AssertionError e) {
                throw new AssertionError(
                        Files.readString(folder.resolve("real.log"), StandardCharsets.ISO_8859_1) + journal.text(), e);
            } finally {
                Shell.stop(folder.resolve("real.pid"));
            }
            assertThat(journal.text()).contains("mara connected");
        }
    }

    @Test
    void theRealStrongSwanReachesAnInsideHostThroughASimulatedListener() throws Exception {
        boolean able = IkeLab.able();
        if (!able) {
            System.out.println("SKIPPED: no strongSwan with its plugins, tun device or right to make namespaces here");
        }
        assumeTrue(able);
        try (IkeLab lab = new IkeLab(folder)) {
            String here = lab.address.replaceAll("\\.2$", ".1");
            ike(here, 500, 4500, Set.of());
            Pair own = sign(Authority.Purpose.CLIENT, "mara");
            lab.call(
                    new IkeConnection(
                                    "orrin",
                                    Host.parse(here),
                                    SERVER,
                                    IkeConnection.Proof.CERTIFICATE,
                                    "mara",
                                    Optional.of("mara.pem"),
                                    Optional.of("authority.pem"),
                                    List.of(Cidr.parse("10.20.0.0/24")))
                            .swanctl(),
                    Map.of(
                            "x509/mara.pem", own.pem(),
                            "private/mara.pem", own.keyPem(),
                            "x509ca/authority.pem", PemText.write("CERTIFICATE", authority.certificate())));

            Shell.Result ping =
                    Shell.run("ip", "netns", "exec", lab.space, "ping", "-c", "1", "-W", "3", HOST.toString());

            assertThat(ping.code())
                    .as(ping.out() + journal.text() + String.join("\n", lab.log()))
                    .isZero();
            assertThat(listener.connected()).hasSize(1);
        }
    }

    /** A bare namespace. */
    private static final class Space extends Lab {
        private Space(Path folder, String name, int network) {
            super(folder, name, network);
        }

        @Override
        public void close() {
            remove();
        }
    }
}
