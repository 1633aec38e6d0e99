package tender.core.trial;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.certificate.Authority;
import tender.core.certificate.PemText;
import tender.core.credential.Secret;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.openvpn.ClientSettings;
import tender.core.openvpn.Pushed;
import tender.core.profile.StaticKey;
import tender.core.trial.Observation.Echo;
import tender.core.trial.Observation.Name;
import tender.core.trial.Observation.Path;
import tender.core.trial.OpenVpnSeen.Stage;

/** Each row of the table of causes of OpenVPN trials, with what is seen and known when it applies. */
class OpenVpnCausesTest {
    private static final House.Pair MARA = House.signed(House.OURS, Authority.Purpose.CLIENT, "mara", -9, 90);
    private static final House.Pair SHOWN = House.signed(House.OURS, Authority.Purpose.SERVER, House.SERVER, -9, 90);

    /** One case: what the file says, what is seen of the server, what is known, and what has to come of it. */
    static final class Row {
        private final Rung rung;
        private final String code;
        private final Certainty certainty;
        String transport = "udp";
        String mode = "client";
        String lines = "";
        String tls = "TLS 1.3";
        Optional<House.Pair> own = Optional.of(MARA);
        Optional<ClientSettings.Login> login = Optional.empty();
        Name name = Name.RESOLVED;
        Path path = Path.ANSWERED;
        Stage stage = Stage.UP;
        Optional<String> proxySays = Optional.empty();
        boolean closed;
        Optional<String> broken = Optional.empty();
        Optional<String> refused = Optional.empty();
        List<byte[]> chain = List.of(SHOWN.certificate());
        boolean asked = true;
        Optional<IpAddress> address = Optional.of(IpAddress.parse("10.94.0.2"));
        Pushed pushed = new Pushed(List.of(
                "route 10.20.0.0 255.255.255.0", "route-gateway 10.94.0.1", "ifconfig 10.94.0.2 255.255.255.0"));
        Echo gateway = Echo.ANSWERED;
        Echo inside = Echo.ANSWERED;
        boolean bridged;
        String cipher = "AES-256-GCM";
        Optional<String> digest = Optional.empty();
        Optional<House.Pair> key = Optional.empty();
        Instant now = House.NOW;
        Optional<Otherwise> otherwise = Optional.empty();
        Optional<TrialContext> known = Optional.empty();

        Row(Rung rung, String code, Certainty certainty) {
            this.rung = rung;
            this.code = code;
            this.certainty = certainty;
        }

        Row with(Consumer<Row> set) {
            set.accept(this);
            return this;
        }

        /** Nothing came after a stage. */
        Row upTo(Stage reached) {
            stage = reached;
            if (reached.compareTo(Stage.ANSWERED) <= 0) {
                chain = List.of();
            }
            if (reached.compareTo(Stage.ANSWERED) < 0) {
                path = transport.equals("tcp") ? Path.ANSWERED : Path.SILENT;
            }
            address = Optional.empty();
            gateway = Echo.NOT_TRIED;
            inside = Echo.NOT_TRIED;
            return this;
        }

        Ladder judged() {
            String file = mode + "\ndev tun\nremote " + House.SERVER + " 1194 " + transport
                    + "\nremote-cert-tls server\n" + lines
                    + block("ca", PemText.write("CERTIFICATE", House.OURS.certificate()))
                    + own.map(p -> block("cert", p.pem())
                                    + block("key", key.orElse(p).keyPem()))
                            .orElse("");
            OpenVpnQuestion question = OpenVpnQuestion.of(
                    file,
                    new ClientSettings.Added(login, Optional.empty()),
                    Optional.of(IpAddress.parse("10.20.0.20")),
                    Optional.empty(),
                    now);
            OpenVpnSeen seen = new OpenVpnSeen(
                    name,
                    Optional.of(IpAddress.parse("192.0.2.10")),
                    path,
                    stage,
                    proxySays,
                    closed,
                    broken,
                    refused,
                    chain,
                    asked,
                    Optional.of(tls),
                    Optional.of(cipher),
                    digest,
                    address,
                    Optional.of(IpAddress.parse("10.94.0.1")),
                    pushed,
                    gateway,
                    inside,
                    List.of(1L, 2L, 3L, 4L, 5L, 6L, 7L, 8L),
                    bridged,
                    otherwise,
                    List.of());
            return OpenVpnLadder.judge(question, seen, known);
        }

        @Override
        public String toString() {
            return rung.label() + ": " + code + ", " + certainty;
        }
    }

    private static String block(String name, String content) {
        return "<" + name + ">\n" + content.strip() + "\n</" + name + ">\n";
    }

    private static Row row(Rung rung, String code, Certainty certainty, Consumer<Row> set) {
        return new Row(rung, code, certainty).with(set);
    }

    private static TrialContext facts(Map<Attribute, String> said) {
        Map<Attribute, String> all = new java.util.HashMap<>(
                Map.of(Attribute.PROTOCOL, "openvpn", Attribute.TRANSPORT, "udp", Attribute.PORT, "1194"));
        all.putAll(said);
        return new TrialContext(
                Optional.of(new Listener("staff", all)),
                false,
                false,
                Optional.empty(),
                List.of(),
                EndpointRecords.UNKNOWN);
    }

    private static TrialContext flags(boolean revoked, boolean newer, String blocked) {
        return new TrialContext(
                Optional.empty(), revoked, newer, Optional.ofNullable(blocked), List.of(), EndpointRecords.UNKNOWN);
    }

    private static TrialContext around(EndpointRecords around) {
        return new TrialContext(Optional.empty(), false, false, Optional.empty(), List.of(), around);
    }

    private static Optional<ClientSettings.Login> login(String code) {
        return Optional.of(new ClientSettings.Login(
                "mara",
                Secret.of("harbour-lantern-7"),
                Optional.ofNullable(code).map(Secret::of)));
    }

    static Stream<Row> rows() {
        Certainty certain = Certainty.CERTAIN;
        Certainty likely = Certainty.LIKELY;
        Certainty possible = Certainty.POSSIBLE;
        String proxy = "http-proxy 192.0.2.80 8080\n";
        String auth = "auth SHA256\nkey-direction 1\n" + block("tls-auth", StaticKey.generate(House.RANDOM));
        List<Row> out = new ArrayList<>();
        out.add(row(Rung.NAME, "name-unknown", certain, r -> r.upTo(Stage.NOT_CALLED).name = Name.UNKNOWN));
        out.add(row(
                Rung.NAME, "name-without-address", certain, r -> r.upTo(Stage.NOT_CALLED).name = Name.WITHOUT_ADDRESS));
        out.add(row(Rung.NAME, "resolver-silent", certain, r -> r.upTo(Stage.NOT_CALLED).name = Name.RESOLVER_SILENT));
        out.add(row(Rung.ADDRESS, "no-way-there", certain, r -> r.upTo(Stage.NOT_CALLED).path = Path.UNREACHABLE));
        out.add(row(Rung.PORT, "proxy-refuses", certain, r -> {
            r.transport = "tcp";
            r.lines = proxy;
            r.proxySays = Optional.of("407 Proxy Authentication Required");
            r.upTo(Stage.NOT_CALLED).path = Path.REFUSED;
        }));
        out.add(row(Rung.PORT, "proxy-shut", certain, r -> {
            r.transport = "tcp";
            r.lines = proxy;
            r.upTo(Stage.NOT_CALLED).path = Path.SILENT;
        }));
        out.add(row(Rung.PORT, "port-differs", certain, r -> {
            r.upTo(Stage.CALLING).known = Optional.of(facts(Map.of(Attribute.PORT, "1195")));
        }));
        out.add(row(Rung.PORT, "port-refused", likely, r -> r.upTo(Stage.CALLING).path = Path.REFUSED));
        out.add(row(Rung.PORT, "path-blocked", certain, r -> {
            r.upTo(Stage.CALLING).path = Path.REFUSED;
            r.known = Optional.of(flags(false, false, "front: forwards nothing"));
        }));
        out.add(row(Rung.PORT, "port-silent", likely, r -> {
            r.transport = "tcp";
            r.upTo(Stage.CALLING).path = Path.SILENT;
        }));
        out.add(row(Rung.PORT, "name-not-updated", certain, r -> {
            r.upTo(Stage.CALLING).path = Path.REFUSED;
            r.known = Optional.of(around(new EndpointRecords(
                    Optional.of(IpAddress.parse("192.0.2.99")), true, Optional.empty(), Optional.empty())));
        }));
        out.add(row(Rung.HANDSHAKE, "path-blocked", certain, r -> {
            r.upTo(Stage.CALLING).known = Optional.of(flags(false, false, "front: forwards nothing"));
        }));
        out.add(row(Rung.HANDSHAKE, "control-channel-key-differs", certain, r -> {
            r.upTo(Stage.CALLING).known = Optional.of(facts(Map.of(Attribute.CONTROL_CHANNEL_KEY, "crypt")));
        }));
        out.add(row(Rung.HANDSHAKE, "digest-differs", certain, r -> {
            r.lines = auth;
            r.upTo(Stage.CALLING).known =
                    Optional.of(facts(Map.of(Attribute.CONTROL_CHANNEL_KEY, "auth", Attribute.DIGEST, "SHA512")));
        }));
        out.add(row(Rung.HANDSHAKE, "transport-differs", certain, r -> {
            r.upTo(Stage.CALLING).otherwise = Optional.of(new Otherwise(Otherwise.Kind.TRANSPORT, "over tcp"));
        }));
        out.add(row(Rung.PORT, "transport-differs", certain, r -> {
            r.transport = "tcp";
            r.upTo(Stage.NOT_CALLED).path = Path.REFUSED;
            r.otherwise = Optional.of(new Otherwise(Otherwise.Kind.TRANSPORT, "over udp"));
        }));
        out.add(row(Rung.HANDSHAKE, "other-service", certain, r -> {
            r.transport = "tcp";
            r.upTo(Stage.CALLING).otherwise = Optional.of(new Otherwise(Otherwise.Kind.SERVICE, "SSH-2.0-OpenSSH_9.2"));
        }));
        out.add(row(Rung.HANDSHAKE, "key-direction", certain, r -> {
            r.lines = auth;
            r.upTo(Stage.CALLING).otherwise =
                    Optional.of(new Otherwise(Otherwise.Kind.DIRECTION, "without a key-direction"));
        }));
        out.add(row(Rung.HANDSHAKE, "digest-differs", certain, r -> {
            r.lines = auth;
            r.upTo(Stage.CALLING).otherwise = Optional.of(new Otherwise(Otherwise.Kind.DIGEST, "with auth SHA1"));
        }));
        out.add(row(Rung.HANDSHAKE, "control-channel-key-differs", certain, r -> {
            r.lines = auth;
            r.upTo(Stage.CALLING).otherwise =
                    Optional.of(new Otherwise(Otherwise.Kind.CONTROL_CHANNEL_KEY, "with the key as tls-crypt"));
        }));
        out.add(row(Rung.HANDSHAKE, "control-channel-key-differs", likely, r -> {
            r.transport = "tcp";
            r.upTo(Stage.CALLING).closed = true;
        }));
        out.add(row(Rung.HANDSHAKE, "no-openvpn", possible, r -> {
            r.transport = "tcp";
            r.upTo(Stage.CALLING);
        }));
        out.add(row(Rung.HANDSHAKE, "control-channel-key-differs", likely, r -> r.upTo(Stage.CALLING)));
        out.add(row(Rung.HANDSHAKE, "filtered", likely, r -> r.upTo(Stage.CALLING)));
        out.add(row(
                Rung.HANDSHAKE, "filtered", possible, r -> r.upTo(Stage.CALLING).known = Optional.of(facts(Map.of()))));
        out.add(row(
                Rung.HANDSHAKE,
                "udp-shut-here",
                possible,
                r -> r.upTo(Stage.CALLING).known = Optional.of(around(new EndpointRecords(
                        Optional.empty(), false, Optional.of("orrin-fw spare on tcp 443"), Optional.empty())))));
        out.add(row(
                Rung.TRUST,
                "server-certificate-expired",
                certain,
                r -> r.upTo(Stage.TRUSTED).chain = House.shown(House.OURS, House.SERVER, -90, -1)));
        out.add(row(
                Rung.TRUST,
                "server-certificate-not-yet",
                certain,
                r -> r.upTo(Stage.TRUSTED).chain = House.shown(House.OURS, House.SERVER, 1, 90)));
        out.add(row(
                Rung.TRUST,
                "clock-differs",
                likely,
                r -> r.upTo(Stage.TRUSTED).now = House.NOW.plus(Duration.ofDays(4_000))));
        out.add(row(Rung.TRUST, "server-gone", certain, r -> r.upTo(Stage.ANSWERED).closed = true));
        out.add(row(Rung.AUTHENTICATION, "server-gone", certain, r -> r.upTo(Stage.TRUSTED).closed = true));
        out.add(row(Rung.TUNNEL_ADDRESS, "server-gone", certain, r -> {
            r.closed = true;
            r.gateway = Echo.SILENT;
            r.inside = Echo.SILENT;
        }));
        out.add(row(Rung.TRUST, "server-ends", likely, r -> {
            r.transport = "tcp";
            r.upTo(Stage.ANSWERED).closed = true;
        }));
        out.add(row(Rung.AUTHENTICATION, "key-differs", certain, r -> {
            r.upTo(Stage.TRUSTED);
            r.key = Optional.of(House.signed(House.OURS, Authority.Purpose.CLIENT, "jonas", -9, 90));
        }));
        out.add(row(Rung.TUNNEL_ADDRESS, "digest-differs", certain, r -> {
            r.cipher = "AES-256-CBC";
            r.digest = Optional.of("SHA512");
            r.gateway = Echo.SILENT;
            r.inside = Echo.SILENT;
        }));
        List<byte[]> foreign = House.shown(House.OTHER, House.SERVER, -9, 90);
        out.add(row(Rung.TRUST, "stale-file", certain, r -> {
            r.upTo(Stage.TRUSTED).chain = foreign;
            r.known = Optional.of(flags(false, true, null));
        }));
        out.add(row(Rung.TRUST, "server-foreign-authority", certain, r -> r.upTo(Stage.TRUSTED).chain = foreign));
        out.add(row(Rung.TRUST, "server-name-differs", certain, r -> {
            r.lines = "verify-x509-name dunmar.skerrivane.example name\n";
            r.upTo(Stage.TRUSTED);
        }));
        out.add(row(
                Rung.TRUST,
                "server-certificate-use",
                certain,
                r -> r.upTo(Stage.TRUSTED).chain = List.of(MARA.certificate())));
        out.add(row(Rung.TRUST, "tls-version", certain, r -> {
            r.upTo(Stage.ANSWERED).broken =
                    Optional.of("alert of the server: protocol_version(70)".replace("(70)", ""));
        }));
        out.add(row(Rung.TRUST, "tls-mismatch", certain, r -> {
            r.upTo(Stage.ANSWERED).broken = Optional.of("alert of the server: handshake_failure");
        }));
        out.add(row(Rung.TRUST, "tls-broken", likely, r -> {
            r.upTo(Stage.ANSWERED).broken = Optional.of("what the server said is no right TLS: decode_error");
        }));
        out.add(row(Rung.TRUST, "large-packets-lost", possible, r -> r.upTo(Stage.ANSWERED)));
        out.add(row(
                Rung.AUTHENTICATION,
                "cipher-mismatch",
                certain,
                r -> r.upTo(Stage.EXCHANGED).refused =
                        Optional.of("AUTH_FAILED,Data channel cipher negotiation failed (no shared cipher)")));
        out.add(row(Rung.AUTHENTICATION, "password-missing", certain, r -> {
            r.lines = "auth-user-pass\n";
            r.upTo(Stage.TRUSTED).refused = Optional.of("AUTH_FAILED");
        }));
        out.add(row(Rung.AUTHENTICATION, "code-missing", certain, r -> {
            r.lines = "auth-user-pass\nstatic-challenge \"The code\" 1\n";
            r.login = login(null);
            r.upTo(Stage.TRUSTED).refused = Optional.of("AUTH_FAILED");
        }));
        out.add(row(Rung.AUTHENTICATION, "code-missing", certain, r -> {
            r.lines = "auth-user-pass\n";
            r.login = login(null);
            r.upTo(Stage.TRUSTED).refused = Optional.of("AUTH_FAILED,CRV1:R,E:s1:bWFyYQ==:The code");
        }));
        out.add(row(Rung.AUTHENTICATION, "password-refused", certain, r -> {
            r.lines = "auth-user-pass\n";
            r.login = login("755224");
            r.upTo(Stage.TRUSTED).refused = Optional.of("AUTH_FAILED");
        }));
        out.add(row(
                Rung.AUTHENTICATION,
                "password-wanted",
                certain,
                r -> r.upTo(Stage.TRUSTED).refused = Optional.of("AUTH_FAILED")));
        out.add(row(
                Rung.AUTHENTICATION,
                "password-wanted",
                certain,
                r -> r.upTo(Stage.TRUSTED).known = Optional.of(facts(Map.of(Attribute.ACCOUNTS, "local")))));
        out.add(row(
                Rung.AUTHENTICATION,
                "server-restarts",
                certain,
                r -> r.upTo(Stage.EXCHANGED).refused = Optional.of("RESTART")));
        out.add(row(Rung.AUTHENTICATION, "certificate-expired", certain, r -> {
            r.own = Optional.of(House.signed(House.OURS, Authority.Purpose.CLIENT, "mara", -90, -1));
            r.upTo(Stage.TRUSTED);
        }));
        out.add(row(Rung.AUTHENTICATION, "certificate-not-yet", certain, r -> {
            r.own = Optional.of(House.signed(House.OURS, Authority.Purpose.CLIENT, "mara", 2, 90));
            r.upTo(Stage.TRUSTED);
        }));
        out.add(row(Rung.AUTHENTICATION, "certificate-use", certain, r -> {
            r.own = Optional.of(House.signed(House.OURS, Authority.Purpose.SERVER, "mara", -9, 90));
            r.upTo(Stage.TRUSTED);
        }));
        out.add(row(
                Rung.AUTHENTICATION,
                "certificate-revoked",
                certain,
                r -> r.upTo(Stage.TRUSTED).known = Optional.of(flags(true, false, null))));
        out.add(row(
                Rung.AUTHENTICATION,
                "certificate-revoked",
                certain,
                r -> r.upTo(Stage.TRUSTED).broken = Optional.of("alert of the server: certificate_revoked")));
        out.add(row(Rung.AUTHENTICATION, "certificate-missing", certain, r -> {
            r.own = Optional.empty();
            r.upTo(Stage.TRUSTED);
        }));
        out.add(row(
                Rung.AUTHENTICATION,
                "foreign-authority",
                certain,
                r -> r.upTo(Stage.TRUSTED).broken = Optional.of("alert of the server: unknown_ca")));
        out.add(row(Rung.AUTHENTICATION, "foreign-authority", likely, r -> {
            r.own = Optional.of(House.signed(House.OTHER, Authority.Purpose.CLIENT, "mara", -9, 90));
            r.upTo(Stage.TRUSTED);
        }));
        out.add(row(Rung.AUTHENTICATION, "certificate-revoked", likely, r -> r.upTo(Stage.TRUSTED)));
        out.add(row(Rung.AUTHENTICATION, "refused", possible, r -> r.upTo(Stage.TRUSTED)));
        out.add(row(Rung.TUNNEL_ADDRESS, "device-type-differs", certain, r -> {
            r.bridged = true;
            r.gateway = Echo.NOT_TRIED;
            r.inside = Echo.NOT_TRIED;
        }));
        out.add(row(Rung.TUNNEL_ADDRESS, "no-address", certain, r -> {
            r.address = Optional.empty();
            r.gateway = Echo.NOT_TRIED;
            r.inside = Echo.NOT_TRIED;
        }));
        Consumer<Row> dropped = r -> {
            r.gateway = Echo.SILENT;
            r.inside = Echo.SILENT;
        };
        out.add(row(Rung.TUNNEL_ADDRESS, "inside-filter", likely, dropped));
        out.add(row(Rung.TUNNEL_ADDRESS, "data-keys-differ", possible, dropped));
        out.add(row(
                Rung.TUNNEL_ADDRESS,
                "networks-clash",
                likely,
                dropped.andThen(r -> r.known = Optional.of(around(new EndpointRecords(
                        Optional.empty(), false, Optional.empty(), Optional.of("staff tunnel 10.94.0.0/24")))))));
        out.add(row(Rung.TRUST, "tls-version", certain, r -> {
            r.lines = "tls-version-min 1.3\n";
            r.tls = "TLS 1.2";
        }));
        out.add(row(
                Rung.TRUST, "server-name-differs", certain, r -> r.lines = "verify-x509-name " + House.SERVER + "\n"));
        out.add(row(Rung.AUTHENTICATION, "pushed-option-rejected", certain, r -> {
            r.upTo(Stage.EXCHANGED);
            r.refused = Optional.of("the file's own pull-filter rejects route 10.0.0.0 255.0.0.0");
        }));
        out.add(row(Rung.TUNNEL_ADDRESS, "takes-nothing", certain, r -> {
            r.upTo(Stage.EXCHANGED);
            r.mode = "tls-client";
        }));
        out.add(row(Rung.ECHO, "outside-reach", certain, r -> {
            r.lines = "route-nopull\n";
            r.pushed = new Pushed(List.of("ifconfig 10.94.0.2 255.255.255.0"));
        }));
        out.add(row(
                Rung.ECHO, "outside-reach", certain, r -> r.lines = "route 10.20.0.20 255.255.255.255 net_gateway\n"));
        out.add(row(Rung.ECHO, "outside-reach", certain, r -> {
            r.pushed = new Pushed(List.of("route 10.99.0.0 255.255.255.0"));
            r.inside = Echo.SILENT;
        }));
        out.add(row(Rung.ECHO, "host-silent", likely, r -> r.inside = Echo.SILENT));
        out.add(row(Rung.ECHO, "host-silent", possible, r -> {
            r.gateway = Echo.NOT_TRIED;
            r.inside = Echo.SILENT;
        }));
        return out.stream();
    }

    @ParameterizedTest
    @MethodSource("rows")
    void endsAtItsRungWithItsCause(Row row) {
        Ladder ladder = row.judged();

        RungResult failure = ladder.failure().orElseThrow(() -> new AssertionError("it held: " + ladder));
        assertThat(failure.rung()).as(ladder.toString()).isEqualTo(row.rung);
        assertThat(failure.causes())
                .as(ladder.toString())
                .anyMatch(c -> c.code().equals(row.code) && c.certainty() == row.certainty)
                .allSatisfy(c -> assertThat(c.remedy()).isNotBlank());
        if (row.certainty == Certainty.CERTAIN) {
            assertThat(failure.causes()).as("a certain cause hides the rest").hasSize(1);
        }
        assertThat(ladder.isProven()).isFalse();
    }

    @Test
    void everyCauseOfTheTableStandsAbove() {
        Set<String> table = new HashSet<>();
        OpenVpnCauses.TABLE.rows().forEach(row -> table.add(row.code() + " " + row.certainty()));
        Set<String> tried = new HashSet<>();
        rows().forEach(row -> tried.add(row.code + " " + row.certainty));
        tried.add("name-not-updated LIKELY"); // LadderTest
        tried.add("first-hosts-silent LIKELY");

        assertThat(tried).isEqualTo(table);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "remote-cert-ku a0",
                "remote-cert-eku 1.3.6.1.5.5.7.3.1",
                "ns-cert-type server",
                "tls-version-max 1.2",
                "tls-cipher TLS-ECDHE-RSA-WITH-AES-256-GCM-SHA384",
                "crl-verify list.pem",
                "fragment 1300",
                "compat-mode 2.3",
                "client-nat snat 10.0.0.0 255.0.0.0 10.1.0.0",
                "remote-random-hostname",
                "no-such-directive 7"
            })
    void nothingIsProvenBesideALineThatWasNotLookedAt(String line) {
        Row row = new Row(Rung.ECHO, "", Certainty.CERTAIN).with(r -> r.lines = "verb 3\n" + line + "\n");
        Ladder ladder = row.judged();
        assertThat(ladder.isProven()).isFalse();
        assertThat(ladder.failure()).isEmpty();
        RungResult trust = ladder.rungs().get(Rung.TRUST.ordinal());
        assertThat(trust.verdict()).isEqualTo(Verdict.OPEN);
        assertThat(trust.detail()).endsWith("not looked at: " + line.split(" ")[0] + " (line 6)");
        if (line.startsWith("no-such")) {
            Row ignored = new Row(Rung.ECHO, "", Certainty.CERTAIN)
                    .with(r -> r.lines = "ignore-unknown-option no-such-directive\n" + line + "\n");
            assertThat(ignored.judged().isProven()).isTrue();
        }
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "verify-x509-name orrin.skerrivane.example name",
                "verify-x509-name orrin. name-prefix",
                "verify-x509-name CN=orrin.skerrivane.example",
                "verify-x509-name CN=orrin.skerrivane.example subject",
                "tls-version-min 1.2",
                "tls-version-min 1.3",
                "pull-filter ignore \"dhcp-option\"",
                "route 10.20.9.0 255.255.255.0 net_gateway",
                "redirect-gateway def1"
            })
    void whatIsAppliedAndHoldsIsProven(String line) {
        Row row = new Row(Rung.ECHO, "", Certainty.CERTAIN).with(r -> r.lines = line + "\n");
        assertThat(row.judged().isProven()).as(row.judged().toString()).isTrue();
    }

    @Test
    void whatIsAllRightIsProven() {
        assertThat(new Row(Rung.ECHO, "", Certainty.CERTAIN).judged().isProven())
                .isTrue();
    }
}
