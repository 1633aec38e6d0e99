package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.net.DatagramSocket;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.stream.LongStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.credential.Secret;
import tender.core.ike.IkeClient;
import tender.core.ike.IkeSettings;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.profile.IkeConnection;
import tender.core.profile.IkeProfile;
import tender.core.trial.Certainty;
import tender.core.trial.IkeLadder;
import tender.core.trial.IkeQuestion;
import tender.core.trial.Ladder;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.Rung;
import tender.core.trial.RungResult;
import tender.core.trial.TrialContext;
import tender.core.trial.Verdict;
import tender.io.names.NameService;

/** Our own trial against Debian's strongSwan: what is right is proven by echo, what is wrong ends where it should. */
class RealIkeTrialTest {
    @TempDir
    static Path folder;

    private static IkeLab lab;

    @BeforeAll
    static void open() throws IOException {
        boolean able = IkeLab.able();
        if (!able) {
            System.out.println("SKIPPED: no strongSwan with its plugins, tun device or right to make namespaces here");
        }
        assumeTrue(able);
        lab = new IkeLab(folder);
    }

    @AfterAll
    static void close() {
        if (lab != null) {
            lab.close();
        }
    }

    private static String profile(IkeConnection.Proof proof, Lab.Pair own, Authority believed) {
        return new IkeProfile(
                        new IkeConnection(
                                        "orrin",
                                        Host.parse(lab.address),
                                        Lab.SERVER_NAME,
                                        proof,
                                        "mara",
                                        own == null ? Optional.empty() : Optional.of("mara.pem"),
                                        Optional.of("authority.pem"),
                                        List.of(Cidr.parse("10.20.77.0/24")))
                                .swanctl(),
                        Optional.ofNullable(own).map(Lab.Pair::pem),
                        Optional.ofNullable(own).map(Lab.Pair::key).map(Secret::of),
                        Optional.of(PemText.write("CERTIFICATE", believed.certificate())))
                .text();
    }

    private static String byCertificate(Lab.Pair own) {
        return profile(IkeConnection.Proof.CERTIFICATE, own, lab.authority);
    }

    private static IkeSettings.Added secret(String text) {
        return new IkeSettings.Added(Optional.empty(), Optional.of(Secret.of(text)));
    }

    private static Ladder tried(String profile, IkeSettings.Added added, String host, List<String> log) {
        IkeQuestion question =
                IkeQuestion.of(profile, added, Optional.empty(), Optional.of(IpAddress.parse(host)), Instant.now());
        return IkeLadder.judge(
                question,
                new IkeTrial(
                                question,
                                name -> new NameService.Answer(NameService.Status.UNKNOWN, List.of()),
                                MeasurementOptions.NOTHING,
                                rung -> {})
                        .run(),
                log.isEmpty() ? Optional.empty() : Optional.of(TrialContext.ofLog(log)));
    }

    private static Ladder tried(String profile, IkeSettings.Added added) {
        return tried(profile, added, Lab.INSIDE_HOST, List.of());
    }

    private static Ladder tried(String profile) {
        return tried(profile, IkeSettings.Added.NOTHING);
    }

    /** Tried once more, judged with the lines that the server's log gained by the first try. */
    private static Ladder told(String profile, IkeSettings.Added added) {
        int before = lab.log().size();
        tried(profile, added);
        List<String> gained = lab.log().subList(before, lab.log().size());
        return tried(profile, added, Lab.INSIDE_HOST, gained);
    }

    private static void assertProven(Ladder ladder) {
        assertThat(ladder.isProven())
                .as(ladder + "\n" + String.join("\n", lab.log()))
                .isTrue();
    }

    private static void assertFails(Ladder ladder, Rung rung, String code, Certainty certainty) {
        RungResult failure = ladder.failure().orElseThrow(() -> new AssertionError("it held: " + ladder));
        assertThat(failure.rung()).as(ladder.toString()).isEqualTo(rung);
        assertThat(failure.causes()).as(ladder.toString()).isNotEmpty();
        assertThat(failure.causes().get(0).code()).as(ladder.toString()).isEqualTo(code);
        assertThat(failure.causes().get(0).certainty()).as(ladder.toString()).isEqualTo(certainty);
        assertThat(ladder.isProven()).isFalse();
    }

    private static final String SHOWS = "auth = pubkey\ncerts = server.pem\nid = " + Lab.SERVER_NAME;

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {
                "EC_P256;aes256gcm16-prfsha384-ecp384;aes256gcm16",
                "RSA_2048;aes256-sha256-modp2048;aes256-sha256",
                "ED25519;aes128gcm16-prfsha256-curve25519;aes128gcm16",
                "EC_P256;chacha20poly1305-prfsha512-ecp521;chacha20poly1305",
                "RSA_4096;aes128-sha1-modp3072;aes128-sha1",
                "EC_P256;aes192-sha384-ecp256;aes256-sha512"
            })
    void aGoodProfileIsProvenByEcho(CertificateKey.Kind kind, String proposals, String tunnel) throws Exception {
        lab.serve(
                lab.sign(lab.authority, Authority.Purpose.SERVER, Lab.SERVER_NAME, 0, 30, kind),
                lab.authority,
                "proposals = " + proposals,
                SHOWS,
                "auth = pubkey",
                "esp_proposals = " + tunnel);

        Ladder ladder = tried(byCertificate(lab.sign(lab.authority, Authority.Purpose.CLIENT, "mara", 0, 30, kind))
                .replaceAll("(?m)^ *proposals = .*", "proposals = aes128-sha256-ecp384," + proposals)
                .replaceAll("(?m)^ *esp_proposals = .*", "esp_proposals = " + tunnel));

        assertProven(ladder);
        assertThat(ladder.rungs()).noneMatch(r -> r.verdict() == Verdict.FAILS);
    }

    @Test
    void aSharedSecretLetsInOrNot() throws Exception {
        lab.serve(lab.server, lab.authority, "", "auth = psk\nid = " + Lab.SERVER_NAME, "auth = psk", "");
        String profile = profile(IkeConnection.Proof.SHARED_SECRET, null, lab.authority);

        assertProven(tried(profile, secret(IkeLab.SHARED)));
        assertFails(tried(profile, secret("another")), Rung.AUTHENTICATION, "secret-differs", Certainty.LIKELY);
        assertFails(told(profile, secret("another")), Rung.AUTHENTICATION, "secret-differs", Certainty.CERTAIN);
        assertFails(
                told(byCertificate(lab.client), IkeSettings.Added.NOTHING),
                Rung.AUTHENTICATION,
                "other-way-wanted",
                Certainty.CERTAIN);
    }

    @Test
    void nameAndPasswordLetInOrNot() throws Exception {
        lab.serve(lab.server, lab.authority, "", SHOWS, "auth = eap-mschapv2\neap_id = %any", "");
        String profile = profile(IkeConnection.Proof.PASSWORD, null, lab.authority);

        assertProven(tried(profile, secret(IkeLab.PASSWORD)));
        assertFails(tried(profile, secret("wrong")), Rung.AUTHENTICATION, "password-refused", Certainty.CERTAIN);
        assertFails(tried(profile), Rung.AUTHENTICATION, "password-missing", Certainty.CERTAIN);
        assertFails(
                tried(profile, new IkeSettings.Added(Optional.of("nobody"), Optional.of(Secret.of(IkeLab.PASSWORD)))),
                Rung.AUTHENTICATION,
                "password-refused",
                Certainty.CERTAIN);
        assertFails(
                tried(profile(IkeConnection.Proof.PASSWORD, null, lab.authority("Another house")), secret("x")),
                Rung.TRUST,
                "server-foreign-authority",
                Certainty.CERTAIN);
    }

    @Test
    void manyWhoBeginAndDoNotFinishMakeTheServerAskForCookies() throws Exception {
        lab.serve();
        IkeQuestion question = IkeQuestion.of(
                byCertificate(lab.client),
                IkeSettings.Added.NOTHING,
                Optional.empty(),
                Optional.empty(),
                Instant.now());
        for (int i = 0; i < 3; i++) {
            IkeClient begun = new IkeClient(question.settings(), Lab.RANDOM);
            try (Wire wire = Wire.udp(new InetSocketAddress(lab.address, 500))) {
                Shell.until("an answer", Duration.ofSeconds(5), () -> answered(begun, wire));
            }
        }
        int before = lab.log().size();

        assertProven(tried(byCertificate(lab.client)));

        assertThat(lab.log().stream().skip(before)).as("the trial met a cookie").anyMatch(l -> l.contains("N(COOKIE)"));
    }

    private static boolean answered(IkeClient client, Wire wire) {
        try {
            for (IkeClient.Sent sent : client.toSend(Instant.now())) {
                if (!sent.onNatPort()) {
                    wire.send(sent.bytes());
                }
            }
            wire.receive(Duration.ofMillis(50)).ifPresent(p -> client.onPacket(p, false));
            return client.stage() == IkeClient.Stage.ANSWERED;
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    @Test
    void whatIsWrongEndsAtItsRungWithItsCause() throws Exception {
        Lab.Pair revoked = lab.sign(lab.authority, Authority.Purpose.CLIENT, "mara", 0, 30);
        lab.revoked(
                List.of(new Authority.Revoked(
                        CertificateFacts.of(revoked.certificate()).serial(), lab.now, 1)),
                Instant.now().plus(Duration.ofDays(5)));
        Files.copy(folder.resolve("revoked.pem"), folder.resolve("x509crl/revoked.pem"));
        try {
            lab.serve(lab.server, lab.authority, "", SHOWS, "auth = pubkey", "esp_proposals = aes256gcm16");
            String good = byCertificate(lab.client);
            assertProven(tried(good));
            assertFails(
                    tried(good.replaceAll("(?m)^ *proposals = .*", "proposals = aes128-sha512-modp1536")),
                    Rung.HANDSHAKE,
                    "cipher-mismatch",
                    Certainty.LIKELY);
            assertFails(
                    told(
                            good.replaceAll("(?m)^ *proposals = .*", "proposals = aes128-sha512-modp1536"),
                            IkeSettings.Added.NOTHING),
                    Rung.HANDSHAKE,
                    "cipher-mismatch",
                    Certainty.CERTAIN);
            assertFails(
                    tried(byCertificate(lab.sign(lab.authority, Authority.Purpose.CLIENT, "mara", -30, -3))),
                    Rung.AUTHENTICATION,
                    "certificate-expired",
                    Certainty.CERTAIN);
            assertFails(
                    tried(byCertificate(lab.sign(lab.authority, Authority.Purpose.CLIENT, "mara", 3, 30))),
                    Rung.AUTHENTICATION,
                    "certificate-not-yet",
                    Certainty.CERTAIN);
            String foreign =
                    byCertificate(lab.sign(lab.authority("Another house"), Authority.Purpose.CLIENT, "mara", 0, 30));
            assertFails(tried(foreign), Rung.AUTHENTICATION, "foreign-authority", Certainty.LIKELY);
            assertFails(
                    told(foreign, IkeSettings.Added.NOTHING),
                    Rung.AUTHENTICATION,
                    "foreign-authority",
                    Certainty.CERTAIN);
            assertFails(tried(byCertificate(revoked)), Rung.AUTHENTICATION, "certificate-revoked", Certainty.LIKELY);
            assertFails(
                    told(byCertificate(revoked), IkeSettings.Added.NOTHING),
                    Rung.AUTHENTICATION,
                    "certificate-revoked",
                    Certainty.CERTAIN);
            assertFails(
                    tried(profile(IkeConnection.Proof.CERTIFICATE, lab.client, lab.authority("Another house"))),
                    Rung.TRUST,
                    "server-foreign-authority",
                    Certainty.CERTAIN);
            assertFails(
                    told(
                            good.replace("id = " + Lab.SERVER_NAME, "id = dunmar.skerrivane.example"),
                            IkeSettings.Added.NOTHING),
                    Rung.AUTHENTICATION,
                    "server-name-differs",
                    Certainty.CERTAIN);
            assertFails(
                    told(profile(IkeConnection.Proof.PASSWORD, null, lab.authority), secret("x")),
                    Rung.AUTHENTICATION,
                    "other-way-wanted",
                    Certainty.CERTAIN);
            assertFails(
                    tried(good.replaceAll("(?m)^ *esp_proposals = .*", "esp_proposals = aes192-sha512")),
                    Rung.TUNNEL_ADDRESS,
                    "cipher-mismatch",
                    Certainty.CERTAIN);
            assertFails(
                    tried(good.replace("10.20.77.0/24", "10.20.78.0/24")),
                    Rung.TUNNEL_ADDRESS,
                    "reach-refused",
                    Certainty.CERTAIN);
            assertFails(
                    tried(good, IkeSettings.Added.NOTHING, "10.20.77.99", List.of()),
                    Rung.ECHO,
                    "host-silent",
                    Certainty.POSSIBLE);
            assertFails(
                    tried(good, IkeSettings.Added.NOTHING, "10.20.78.20", List.of()),
                    Rung.ECHO,
                    "outside-reach",
                    Certainty.CERTAIN);
            assertFails(tried(good.replace(lab.address, "127.3.3.3")), Rung.PORT, "port-refused", Certainty.LIKELY);
            assertFails(
                    tried(good.replace(lab.address, "nowhere.skerrivane.invalid")),
                    Rung.NAME,
                    "name-unknown",
                    Certainty.CERTAIN);
            lab.serve(lab.server, lab.authority, "", SHOWS, "auth = pubkey", "", "");
            assertFails(tried(good), Rung.TUNNEL_ADDRESS, "pool-full", Certainty.CERTAIN);
        } finally {
            Files.deleteIfExists(folder.resolve("x509crl/revoked.pem"));
        }
    }

    @Test
    void aServerThatIsNotWhatItShouldBeIsToldByItsCertificate() throws Exception {
        serveWith(lab.sign(lab.authority, Authority.Purpose.SERVER, Lab.SERVER_NAME, -30, -2));
        assertFails(tried(byCertificate(lab.client)), Rung.TRUST, "server-certificate-expired", Certainty.CERTAIN);

        serveWith(lab.sign(lab.authority, Authority.Purpose.SERVER, Lab.SERVER_NAME, 2, 30));
        assertFails(tried(byCertificate(lab.client)), Rung.TRUST, "server-certificate-not-yet", Certainty.CERTAIN);
    }

    private static void serveWith(Lab.Pair shown) throws IOException {
        lab.serve(shown, lab.authority, "", SHOWS, "auth = pubkey", "");
    }

    @Test
    void oneOfTheTwoPortsShutIsToldApart() throws Exception {
        lab.serve();
        String good = byCertificate(lab.client).replace(lab.address, "127.4.4.4");
        try (BadLine open = new BadLine(new InetSocketAddress(lab.address, 500), at("127.4.4.4", 500));
                DatagramSocket mute = new DatagramSocket(at("127.4.4.4", 4500))) {
            assertThat(mute.isBound()).isTrue();
            assertFails(tried(good), Rung.PORT, "nat-port-shut", Certainty.LIKELY);
        }
        try (BadLine open = new BadLine(new InetSocketAddress(lab.address, 4500), at("127.4.4.4", 4500));
                DatagramSocket mute = new DatagramSocket(at("127.4.4.4", 500))) {
            assertThat(mute.isBound()).isTrue();
            assertFails(tried(good), Rung.PORT, "ike-port-shut", Certainty.LIKELY);
        }
        try (DatagramSocket one = new DatagramSocket(at("127.4.4.4", 500));
                DatagramSocket two = new DatagramSocket(at("127.4.4.4", 4500))) {
            assertThat(one.isBound() && two.isBound()).isTrue();
            assertFails(tried(good), Rung.HANDSHAKE, "filtered", Certainty.LIKELY);
        }
    }

    @Test
    void aServerThatAnsweredAndIsGoneIsNoShutPort() throws Exception {
        lab.serve();
        String good = byCertificate(lab.client).replace(lab.address, "127.4.4.5");
        try (BadLine line = new BadLine(new InetSocketAddress(lab.address, 500), at("127.4.4.5", 500))
                .goneAfter(200)) { // smaller ones ask for another group
            assertThat(line.port()).isEqualTo(500);
            assertFails(tried(good), Rung.PORT, "server-gone", Certainty.CERTAIN);
        }
    }

    private static InetSocketAddress at(String address, int port) {
        return new InetSocketAddress(address, port);
    }

    @ParameterizedTest
    @CsvSource({"1,0.2,0,true", "2,0,300,false"})
    void lossDelayDoublesAndDisorderDoNotChangeTheVerdict(long seed, double loss, int delay, boolean doubles)
            throws Exception {
        lab.serve();
        List<CompletableFuture<Ladder>> three = LongStream.range(0, 3)
                .mapToObj(n -> CompletableFuture.supplyAsync(() -> over(seed * 10 + n, loss, delay, doubles)))
                .toList();

        List<Ladder> ladders = three.stream().map(CompletableFuture::join).toList();

        assertThat(ladders.stream().filter(Ladder::isProven))
                .as(ladders + "\n" + String.join("\n", lab.log()))
                .hasSizeGreaterThanOrEqualTo(2); // one of three may meet more loss than it has time for
        assertThat(ladders.stream().flatMap(l -> l.failure().stream()).flatMap(f -> f.causes().stream()))
                .as("never a wrong certainty")
                .noneMatch(c -> c.certainty() == Certainty.CERTAIN);
    }

    private static Ladder over(long seed, double loss, int delay, boolean doubles) {
        try (BadLine line =
                new BadLine(new InetSocketAddress(lab.address, IkeSettings.NAT_PORT), seed, loss, delay, doubles)) {
            String profile = byCertificate(lab.client)
                    .replace("remote_addrs = " + lab.address, "remote_addrs = 127.0.0.1\nremote_port = " + line.port());
            Instant began = Instant.now();
            Ladder ladder = tried(profile);
            assertThat(Duration.between(began, Instant.now())).isLessThan(IkeTrial.LONGEST.plusSeconds(10));
            return ladder;
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }
}
