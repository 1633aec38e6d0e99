package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;
import tender.core.network.Transport;
import tender.core.profile.ClientProfile;
import tender.core.profile.WireGuardFile;
import tender.core.trial.Certainty;
import tender.core.trial.GatewayEvidence;
import tender.core.trial.Ladder;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.Observation;
import tender.core.trial.Question;
import tender.core.trial.Rung;
import tender.core.wireguard.StatusDump;
import tender.io.gateway.CallableAddresses;
import tender.io.gateway.DescriptionReader;
import tender.io.gateway.ManagementConnection;
import tender.io.gateway.SignIn;
import tender.io.gateway.SshConnector;
import tender.io.gateway.Target;
import tender.io.names.DnsNameService;
import tender.standins.office.SmallOffice;

/** Trials against the stand-in router: the good file is proven, each broken one ends at its rung with its cause. */
class WireGuardTrialTest {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final TunnelKeyPair CLIENT = TunnelKeyPair.generate(RANDOM);
    private static final Secret PSK = TunnelKeyPair.presharedKey(RANDOM);

    @TempDir
    static Path folder;

    private static SmallOffice office;
    private static DnsNameService names;
    private static SshConnector connector;

    @BeforeAll
    static void open() throws Exception {
        office = SmallOffice.start(folder, "127.10.71.1");
        names = new DnsNameService(Optional.of(office.resolver()));
        connector = new SshConnector(names, new CallableAddresses(List.of(Cidr.parse("127.10.0.0/16"))));
        WireGuardFile file =
                WireGuardFile.read(Files.readString(office.tunnelFile())).file();
        String section = ClientProfile.gatewaySection(
                "mara phone", CLIENT.publicKey(), Optional.of(PSK), List.of(Cidr.parse("10.99.4.2/32")));
        Files.writeString(office.tunnelFile(), file.withPeer(section).text());
        try (ManagementConnection session = session()) {
            session.reload();
        }
    }

    private static ManagementConnection session() throws Exception {
        Target target = new Target(
                tender.core.network.Host.parse(office.address()),
                new tender.core.network.Port(office.router().sshPort()),
                SmallOffice.USER,
                new SignIn(SignIn.Method.KEY, Secret.of(office.key())),
                Optional.empty(),
                DescriptionReader.shipped("plain-router"),
                false);
        return connector.open(target.withIdentity(connector.identity(target)));
    }

    @AfterAll
    static void close() throws Exception {
        connector.close();
        office.close();
    }

    @AfterEach
    void fix() {
        office.router().faults().insideHostsSilent = false;
    }

    private static ClientProfile good() throws Exception {
        WireGuardFile server =
                WireGuardFile.read(Files.readString(office.tunnelFile())).file();
        TunnelKeyPair gateway =
                TunnelKeyPair.ofPrivate(server.own().orElseThrow().privateKey().orElseThrow());
        return new ClientProfile(
                "mara phone",
                Optional.of(CLIENT.privateKey()),
                List.of(InterfaceAddress.parse("10.99.4.2/32")),
                List.of(),
                OptionalInt.empty(),
                gateway.publicKey(),
                Optional.of(PSK),
                Endpoint.parse(SmallOffice.NAME + ":" + office.tunnelPort(), Transport.UDP),
                List.of(Cidr.parse("10.20.4.0/24"), Cidr.parse("10.99.4.0/24")),
                OptionalInt.empty());
    }

    private static Ladder walk(ClientProfile profile, boolean withFiles) throws Exception {
        Question question = Question.of(
                WireGuardFile.read(profile.text()).file(),
                Optional.of(IpAddress.parse(SmallOffice.GATEWAY_INSIDE)),
                Optional.of(IpAddress.parse(SmallOffice.INSIDE_HOST)));
        Observation seen = new WireGuardTrial(question, names, MeasurementOptions.NOTHING, rung -> {}).run();
        Optional<GatewayEvidence> evidence = Optional.empty();
        if (withFiles) {
            try (ManagementConnection session = session()) {
                WireGuardFile file = WireGuardFile.read(new String(session.tunnel("wg0"), StandardCharsets.UTF_8))
                        .file();
                evidence = Optional.of(
                        GatewayEvidence.of(question, file, session.status().named("wg0")));
            }
        }
        return Ladder.judge(question, seen, evidence);
    }

    @Test
    void provesTheGoodFileByAnEchoFromTheInsideHost() throws Exception {
        List<Rung> entered = new ArrayList<>();
        Question question = Question.of(
                WireGuardFile.read(good().text()).file(),
                Optional.empty(),
                Optional.of(IpAddress.parse(SmallOffice.INSIDE_HOST)));

        Observation seen = new WireGuardTrial(question, names, MeasurementOptions.NOTHING, entered::add).run();

        assertThat(Ladder.judge(question, seen, Optional.empty()).isProven()).isTrue();
        assertThat(entered).containsExactlyElementsOf(Rung.OF_KEYS);
        try (ManagementConnection session = session()) {
            StatusDump.Peer peer =
                    session.status().named("wg0").orElseThrow().peers().get(0);
            assertThat(peer.lastHandshake()).isPresent();
            assertThat(peer.received()).isGreaterThan(148);
        }
    }

    record Broken(String name, Change change, boolean withFiles, Rung rung, String cause, Certainty certainty) {
        @Override
        public String toString() {
            return name + (withFiles ? ", files read" : ", files not read");
        }
    }

    interface Change {
        ClientProfile of(ClientProfile good) throws Exception;
    }

    static Stream<Arguments> broken() {
        TunnelKeyPair other = TunnelKeyPair.generate(RANDOM);
        Change serverKey = p -> with(p, p.privateKey(), other.publicKey(), p.presharedKey(), p.endpoint());
        Change psk = p ->
                with(p, p.privateKey(), p.gatewayKey(), Optional.of(TunnelKeyPair.presharedKey(RANDOM)), p.endpoint());
        Change client = p -> with(p, Optional.of(other.privateKey()), p.gatewayKey(), p.presharedKey(), p.endpoint());
        Change port = p -> with(
                p,
                p.privateKey(),
                p.gatewayKey(),
                p.presharedKey(),
                Endpoint.parse(SmallOffice.NAME + ":" + (office.tunnelPort() ^ 1), Transport.UDP));
        Change name = p -> with(
                p,
                p.privateKey(),
                p.gatewayKey(),
                p.presharedKey(),
                Endpoint.parse("pier9.skerrivane.example:" + office.tunnelPort(), Transport.UDP));
        Change silent = p -> {
            office.router().faults().insideHostsSilent = true;
            return p;
        };
        return Stream.of(
                        new Broken(
                                "server key wrong",
                                serverKey,
                                true,
                                Rung.HANDSHAKE,
                                "gateway-key-differs",
                                Certainty.CERTAIN),
                        new Broken(
                                "server key wrong",
                                serverKey,
                                false,
                                Rung.HANDSHAKE,
                                "path-blocked",
                                Certainty.POSSIBLE),
                        new Broken(
                                "preshared key wrong",
                                psk,
                                true,
                                Rung.HANDSHAKE,
                                "preshared-key-differs",
                                Certainty.CERTAIN),
                        new Broken(
                                "preshared key wrong",
                                psk,
                                false,
                                Rung.HANDSHAKE,
                                "preshared-key-differs",
                                Certainty.CERTAIN),
                        new Broken("client unknown", client, true, Rung.HANDSHAKE, "client-unknown", Certainty.CERTAIN),
                        new Broken("port wrong", port, true, Rung.PORT, "port-differs", Certainty.CERTAIN),
                        new Broken("port wrong", port, false, Rung.PORT, "port-refused", Certainty.LIKELY),
                        new Broken("name does not resolve", name, true, Rung.NAME, "name-unknown", Certainty.CERTAIN),
                        new Broken("inside host silent", silent, true, Rung.ECHO, "host-silent", Certainty.LIKELY))
                .map(Arguments::of);
    }

    private static ClientProfile with(
            ClientProfile p,
            Optional<Secret> key,
            tender.core.credential.TunnelKey gateway,
            Optional<Secret> psk,
            Endpoint endpoint) {
        return new ClientProfile(
                p.title(),
                key,
                p.addresses(),
                p.dns(),
                p.mtu(),
                gateway,
                psk,
                endpoint,
                p.reach(),
                p.keepAliveSeconds());
    }

    @ParameterizedTest
    @MethodSource("broken")
    void namesRungCauseAndCertainty(Broken broken) throws Exception {
        Ladder ladder = walk(broken.change().of(good()), broken.withFiles());

        var failure = ladder.failure().orElseThrow();
        assertThat(failure.rung()).isEqualTo(broken.rung());
        assertThat(failure.causes().get(0).code()).isEqualTo(broken.cause());
        assertThat(failure.causes().get(0).certainty()).isEqualTo(broken.certainty());
        assertThat(ladder.isProven()).isFalse();
    }

    @Test
    void tellsThatAWrittenPeerIsNotActive() throws Exception {
        TunnelKeyPair late = TunnelKeyPair.generate(RANDOM);
        String before = Files.readString(office.tunnelFile());
        Files.writeString(
                office.tunnelFile(),
                WireGuardFile.read(before)
                        .file()
                        .withPeer(ClientProfile.gatewaySection(
                                "late", late.publicKey(), Optional.empty(), List.of(Cidr.parse("10.99.4.3/32"))))
                        .text());

        ClientProfile p = good();
        Ladder ladder =
                walk(with(p, Optional.of(late.privateKey()), p.gatewayKey(), Optional.empty(), p.endpoint()), true);
        Files.writeString(office.tunnelFile(), before);

        assertThat(ladder.failure().orElseThrow().causes().get(0).code()).isEqualTo("client-not-active");
    }
}
