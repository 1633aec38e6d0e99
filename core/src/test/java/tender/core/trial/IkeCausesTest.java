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
import tender.core.certificate.Authority;
import tender.core.certificate.PemText;
import tender.core.credential.Secret;
import tender.core.ike.Identification;
import tender.core.ike.IkeClient.Stage;
import tender.core.ike.IkeSettings;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.profile.IkeConnection;
import tender.core.profile.IkeProfile;
import tender.core.trial.Observation.Echo;
import tender.core.trial.Observation.Name;
import tender.core.trial.Observation.Path;

/** Each row of the table of causes of IKEv2 trials, with what is seen and known when it applies. */
class IkeCausesTest {
    private static final House.Pair MARA = House.signed(House.OURS, Authority.Purpose.CLIENT, "mara", -9, 90);
    private static final House.Pair SHOWN = House.signed(House.OURS, Authority.Purpose.SERVER, House.SERVER, -9, 90);

    /** One case: what the file says, what is seen of the server, what is known, and what has to come of it. */
    static final class Row {
        private final Rung rung;
        private final String code;
        private final Certainty certainty;
        IkeConnection.Proof proof = IkeConnection.Proof.CERTIFICATE;
        House.Pair own = MARA;
        String wanted = House.SERVER;
        Optional<String> secret = Optional.of("a-secret-for-all-of-us");
        Name name = Name.RESOLVED;
        Path path = Path.ANSWERED;
        Path natPath = Path.ANSWERED;
        Stage stage = Stage.UP;
        Optional<String> refused = Optional.empty();
        Optional<String> broken = Optional.empty();
        List<byte[]> chain = List.of(SHOWN.certificate());
        List<IpAddress> addresses = List.of(IpAddress.parse("10.95.0.2"));
        List<Cidr> reach = List.of(Cidr.parse("10.20.0.0/24"));
        Echo gateway = Echo.ANSWERED;
        Echo inside = Echo.ANSWERED;
        Optional<IpAddress> host = Optional.of(IpAddress.parse("10.20.0.20"));
        FirstHosts first = FirstHosts.NONE;
        Optional<Identification> otherwiseNamed = Optional.empty();
        boolean asksPassword;
        String identity = "mara";
        Instant now = House.NOW;
        Optional<TrialContext> known = Optional.empty();

        Row(Rung rung, String code, Certainty certainty) {
            this.rung = rung;
            this.code = code;
            this.certainty = certainty;
        }

        /** Nothing came after a stage. */
        Row upTo(Stage reached) {
            stage = reached;
            if (reached.compareTo(Stage.TRUSTED) < 0) {
                chain = List.of();
            }
            if (reached == Stage.CALLING) {
                path = Path.SILENT;
                natPath = Path.SILENT;
            }
            addresses = List.of();
            gateway = Echo.NOT_TRIED;
            inside = Echo.NOT_TRIED;
            return this;
        }

        Row refused(Stage reached, String words) {
            upTo(reached).refused = Optional.of(words);
            if (reached == Stage.CALLING) {
                natPath = Path.NOT_TRIED; // it comes after the first exchange
            }
            return this;
        }

        Ladder judged() {
            boolean certified = proof == IkeConnection.Proof.CERTIFICATE;
            IkeConnection connection = new IkeConnection(
                    "orrin",
                    Host.parse(House.SERVER),
                    wanted,
                    proof,
                    identity,
                    certified ? Optional.of("mara.pem") : Optional.empty(),
                    Optional.of("authority.pem"),
                    List.of(Cidr.parse("10.20.0.0/24")));
            IkeProfile profile = new IkeProfile(
                    connection.swanctl(),
                    certified ? Optional.of(own.pem()) : Optional.empty(),
                    certified ? Optional.of(Secret.of(own.keyPem())) : Optional.empty(),
                    Optional.of(PemText.write("CERTIFICATE", House.OURS.certificate())));
            IkeQuestion question = IkeQuestion.of(
                    profile.text(),
                    new IkeSettings.Added(Optional.empty(), certified ? Optional.empty() : secret.map(Secret::of)),
                    Optional.of(IpAddress.parse("10.95.0.1")),
                    host,
                    now);
            IkeSeen seen = new IkeSeen(
                    name,
                    Optional.of(IpAddress.parse("192.0.2.10")),
                    path,
                    natPath,
                    Optional.of(stage),
                    refused,
                    broken,
                    chain,
                    Optional.of(Identification.parse(wanted)),
                    otherwiseNamed,
                    asksPassword,
                    Optional.of("AES-256-GCM"),
                    false,
                    addresses,
                    reach,
                    gateway,
                    inside,
                    first,
                    List.of(1L, 2L, 3L, 4L, 5L, 6L, 7L, 8L));
            return IkeLadder.judge(question, seen, known);
        }

        @Override
        public String toString() {
            return rung.label() + ": " + code + ", " + certainty;
        }
    }

    private static TrialContext circumstances(boolean revoked, boolean newer, String blocked, EndpointRecords around) {
        return new TrialContext(
                Optional.of(new Listener(
                        "phones",
                        Map.of(Attribute.PROTOCOL, "ikev2", Attribute.SERVER_NAMES, "vpn.skerrivane.example"))),
                revoked,
                newer,
                Optional.ofNullable(blocked),
                List.of(),
                around);
    }

    private static TrialContext around(String at, String clash, String tcp) {
        return circumstances(
                false,
                false,
                null,
                new EndpointRecords(
                        Optional.ofNullable(at).map(IpAddress::parse),
                        true,
                        Optional.ofNullable(tcp),
                        Optional.ofNullable(clash)));
    }

    private static final List<Row> ROWS = new ArrayList<>();

    private static void row(Rung rung, String code, Certainty certainty, Consumer<Row> set) {
        Row row = new Row(rung, code, certainty);
        set.accept(row);
        ROWS.add(row);
    }

    static Stream<Row> rows() {
        return ROWS.stream();
    }

    static {
        Certainty certain = Certainty.CERTAIN;
        Certainty likely = Certainty.LIKELY;
        Certainty possible = Certainty.POSSIBLE;
        row(Rung.NAME, "name-unknown", certain, r -> r.upTo(Stage.CALLING).name = Name.UNKNOWN);
        row(Rung.NAME, "name-without-address", certain, r -> r.upTo(Stage.CALLING).name = Name.WITHOUT_ADDRESS);
        row(Rung.NAME, "resolver-silent", certain, r -> r.upTo(Stage.CALLING).name = Name.RESOLVER_SILENT);
        row(Rung.ADDRESS, "no-way-there", certain, r -> r.upTo(Stage.CALLING).path = Path.UNREACHABLE);
        row(Rung.PORT, "server-gone", certain, r -> r.upTo(Stage.ANSWERED).path = Path.REFUSED);
        row(Rung.PORT, "nat-port-shut", likely, r -> r.upTo(Stage.ANSWERED).natPath = Path.SILENT);
        row(Rung.PORT, "ike-port-shut", likely, r -> r.upTo(Stage.CALLING).natPath = Path.ANSWERED);
        row(Rung.PORT, "path-blocked", certain, r -> {
            r.upTo(Stage.ANSWERED).natPath = Path.SILENT;
            r.known = Optional.of(circumstances(false, false, "front: no udp 4500", EndpointRecords.UNKNOWN));
        });
        row(Rung.PORT, "port-refused", likely, r -> r.upTo(Stage.CALLING).path = Path.REFUSED);
        row(Rung.PORT, "name-not-updated", certain, r -> {
            r.upTo(Stage.CALLING).path = Path.REFUSED;
            r.known = Optional.of(around("192.0.2.99", null, null));
        });
        row(
                Rung.HANDSHAKE,
                "path-blocked",
                certain,
                r -> r.upTo(Stage.CALLING).known =
                        Optional.of(circumstances(false, false, "front: forwards nothing", EndpointRecords.UNKNOWN)));
        row(
                Rung.HANDSHAKE,
                "cipher-mismatch",
                likely,
                r -> r.refused(Stage.CALLING, "NO_PROPOSAL_CHOSEN").path = Path.ANSWERED);
        row(
                Rung.HANDSHAKE,
                "group-mismatch",
                certain,
                r -> r.refused(Stage.CALLING, "INVALID_KE_PAYLOAD").path = Path.ANSWERED);
        row(
                Rung.HANDSHAKE,
                "no-ikev2",
                certain,
                r -> r.refused(Stage.CALLING, "INVALID_MAJOR_VERSION").path = Path.ANSWERED);
        row(
                Rung.HANDSHAKE,
                "handshake-refused",
                likely,
                r -> r.refused(Stage.CALLING, "INVALID_SYNTAX").path = Path.ANSWERED);
        row(Rung.HANDSHAKE, "filtered", likely, r -> r.upTo(Stage.CALLING));
        row(
                Rung.HANDSHAKE,
                "filtered",
                possible,
                r -> r.upTo(Stage.CALLING).known = Optional.of(around(null, null, null)));
        row(Rung.HANDSHAKE, "listener-off", possible, r -> r.upTo(Stage.CALLING));
        row(
                Rung.HANDSHAKE,
                "udp-shut-here",
                possible,
                r -> r.upTo(Stage.CALLING).known = Optional.of(around(null, null, "orrin-fw spare on tcp 443")));
        row(Rung.TRUST, "secret-differs", certain, r -> {
            r.proof = IkeConnection.Proof.SHARED_SECRET;
            r.upTo(Stage.ANSWERED).broken = Optional.of("the server's proof does not hold");
        });
        row(
                Rung.TRUST,
                "server-proof-wrong",
                certain,
                r -> r.upTo(Stage.ANSWERED).broken = Optional.of("the server's proof does not hold"));
        row(
                Rung.TRUST,
                "server-certificate-expired",
                certain,
                r -> r.upTo(Stage.TRUSTED).chain = House.shown(House.OURS, House.SERVER, -90, -1));
        row(
                Rung.TRUST,
                "server-certificate-not-yet",
                certain,
                r -> r.upTo(Stage.TRUSTED).chain = House.shown(House.OURS, House.SERVER, 1, 90));
        row(
                Rung.TRUST,
                "clock-differs",
                likely,
                r -> r.upTo(Stage.TRUSTED).now = House.NOW.plus(Duration.ofDays(4_000)));
        row(
                Rung.TRUST,
                "other-proof",
                certain,
                r -> r.upTo(Stage.ANSWERED).broken = Optional.of(
                        "the server authenticates with a shared secret, but the file requires a certificate"));
        List<byte[]> foreign = House.shown(House.OTHER, House.SERVER, -9, 90);
        row(Rung.TRUST, "stale-file", certain, r -> {
            r.upTo(Stage.TRUSTED).chain = foreign;
            r.known = Optional.of(circumstances(false, true, null, EndpointRecords.UNKNOWN));
        });
        row(Rung.TRUST, "server-foreign-authority", certain, r -> r.upTo(Stage.TRUSTED).chain = foreign);
        row(Rung.TRUST, "server-name-differs", certain, r -> {
            r.wanted = "dunmar.skerrivane.example";
            r.upTo(Stage.TRUSTED);
        });
        row(Rung.TRUST, "large-packets-lost", likely, r -> r.upTo(Stage.ANSWERED));
        row(Rung.AUTHENTICATION, "password-missing", certain, r -> {
            r.proof = IkeConnection.Proof.PASSWORD;
            r.secret = Optional.empty();
            r.refused(Stage.TRUSTED, "no password was given");
        });
        row(Rung.AUTHENTICATION, "password-refused", certain, r -> {
            r.proof = IkeConnection.Proof.PASSWORD;
            r.refused(Stage.TRUSTED, "EAP: E=691 R=0");
        });
        row(
                Rung.AUTHENTICATION,
                "password-wanted",
                certain,
                r -> r.refused(Stage.TRUSTED, "the server wants a name and password (EAP)"));
        row(Rung.AUTHENTICATION, "other-way-wanted", certain, r -> {
            r.proof = IkeConnection.Proof.PASSWORD;
            r.refused(Stage.TRUSTED, "EAP method 13 is wanted");
        });
        String unproven = "AUTHENTICATION_FAILED";
        row(Rung.AUTHENTICATION, "own-name-differs", certain, r -> {
            r.identity = "jonas";
            r.refused(Stage.ANSWERED, unproven);
        });
        row(
                Rung.AUTHENTICATION,
                "password-wanted",
                likely,
                r -> r.refused(Stage.ANSWERED, unproven).asksPassword = true);
        row(
                Rung.AUTHENTICATION,
                "server-name-differs",
                certain,
                r -> r.refused(Stage.ANSWERED, unproven).otherwiseNamed =
                        Optional.of(Identification.parse("dunmar.skerrivane.example")));
        row(Rung.AUTHENTICATION, "certificate-expired", certain, r -> {
            r.own = House.signed(House.OURS, Authority.Purpose.CLIENT, "mara", -90, -1);
            r.refused(Stage.ANSWERED, unproven);
        });
        row(Rung.AUTHENTICATION, "certificate-not-yet", certain, r -> {
            r.own = House.signed(House.OURS, Authority.Purpose.CLIENT, "mara", 2, 90);
            r.refused(Stage.ANSWERED, unproven);
        });
        row(
                Rung.AUTHENTICATION,
                "certificate-revoked",
                certain,
                r -> r.refused(Stage.ANSWERED, unproven).known =
                        Optional.of(circumstances(true, false, null, EndpointRecords.UNKNOWN)));
        row(Rung.AUTHENTICATION, "secret-differs", likely, r -> {
            r.proof = IkeConnection.Proof.SHARED_SECRET;
            r.refused(Stage.ANSWERED, unproven);
        });
        row(Rung.AUTHENTICATION, "foreign-authority", likely, r -> {
            r.own = House.signed(House.OTHER, Authority.Purpose.CLIENT, "mara", -9, 90);
            r.refused(Stage.ANSWERED, unproven);
        });
        row(Rung.AUTHENTICATION, "certificate-revoked", likely, r -> r.refused(Stage.ANSWERED, unproven));
        row(
                Rung.AUTHENTICATION,
                "server-name-differs",
                certain,
                r -> r.refused(Stage.ANSWERED, unproven).known = Optional.of(around(null, null, null)));
        row(Rung.AUTHENTICATION, "identity-unknown", possible, r -> r.refused(Stage.ANSWERED, unproven));
        row(Rung.AUTHENTICATION, "went-silent", possible, r -> r.upTo(Stage.TRUSTED));
        row(Rung.AUTHENTICATION, "refused", likely, r -> r.refused(Stage.ANSWERED, "INVALID_SYNTAX"));
        row(Rung.TUNNEL_ADDRESS, "pool-full", certain, r -> r.refused(Stage.TRUSTED, "INTERNAL_ADDRESS_FAILURE"));
        row(Rung.TUNNEL_ADDRESS, "reach-refused", certain, r -> r.refused(Stage.TRUSTED, "TS_UNACCEPTABLE"));
        row(Rung.TUNNEL_ADDRESS, "cipher-mismatch", certain, r -> r.refused(Stage.TRUSTED, "NO_PROPOSAL_CHOSEN"));
        row(Rung.TUNNEL_ADDRESS, "no-address", certain, r -> r.upTo(Stage.UP));
        Consumer<Row> dropped = r -> {
            r.gateway = Echo.SILENT;
            r.inside = Echo.SILENT;
        };
        row(Rung.TUNNEL_ADDRESS, "inside-filter", likely, dropped);
        row(
                Rung.TUNNEL_ADDRESS,
                "networks-clash",
                likely,
                dropped.andThen(r -> r.known = Optional.of(around(null, "phones tunnel 10.95.0.0/24", null))));
        row(Rung.ECHO, "outside-reach", certain, r -> {
            r.reach = List.of(Cidr.parse("10.99.0.0/24"));
            r.inside = Echo.SILENT;
        });
        row(Rung.ECHO, "host-silent", likely, r -> r.inside = Echo.SILENT);
        row(Rung.ECHO, "host-silent", possible, r -> {
            r.gateway = Echo.NOT_TRIED;
            r.inside = Echo.SILENT;
        });
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
        IkeCauses.TABLE.rows().forEach(row -> table.add(row.code() + " " + row.certainty()));
        Set<String> tried = new HashSet<>();
        ROWS.forEach(row -> tried.add(row.code + " " + row.certainty));
        tried.add("name-not-updated LIKELY"); // LadderTest
        tried.add("first-hosts-silent LIKELY");

        assertThat(tried).isEqualTo(table);
    }

    @Test
    void whatIsAllRightIsProven() {
        assertThat(new Row(Rung.ECHO, "", Certainty.CERTAIN).judged().isProven())
                .isTrue();
    }
}
