package tender.core.ike;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateKey;
import tender.core.credential.Secret;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.trial.IcmpEcho;
import tender.core.wire.MalformedException;

/** Both sides of IKEv2 against each other in memory, the RFCs' vectors, and what a hostile other side may send. */
class IkeTest {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final HexFormat HEX = HexFormat.of();
    private static final String SERVER = "orrin.skerrivane.example";

    private final Authority authority = Authority.make(
            "Skerrivane Ferries",
            CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM),
            Instant.now().minus(Duration.ofDays(1)),
            Instant.now().plus(Duration.ofDays(9)),
            RANDOM);
    private final CertificateKey serverKey = CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
    private final byte[] serverCertificate = sign(Authority.Purpose.SERVER, SERVER, serverKey);
    private String proposals = "aes256gcm16-prfsha256-ecp256";
    private String tunnelProposals = "aes256gcm16";

    private byte[] sign(Authority.Purpose purpose, String name, CertificateKey key) {
        return authority.sign(
                purpose,
                name,
                List.of(name),
                key.publicKey(),
                Instant.now().minusSeconds(60),
                Instant.now().plus(Duration.ofDays(5)),
                Optional.empty(),
                RANDOM);
    }

    private class Rules implements IkeRules {
        private final List<String> log = new ArrayList<>();

        @Override
        public String identity() {
            return SERVER;
        }

        @Override
        public List<byte[]> chain() {
            return List.of(serverCertificate);
        }

        @Override
        public CertificateKey key() {
            return serverKey;
        }

        @Override
        public String proposals() {
            return proposals;
        }

        @Override
        public String tunnelProposals() {
            return tunnelProposals;
        }

        @Override
        public List<Cidr> reach() {
            return List.of(Cidr.parse("10.20.0.0/16"));
        }

        @Override
        public List<byte[]> authorities() {
            return List.of(authority.certificate());
        }

        @Override
        public Optional<String> refuses(List<byte[]> chain) {
            return Optional.empty();
        }

        @Override
        public Optional<Secret> password(String account) {
            return account.equals("mara") ? Optional.of(Secret.of("harbour")) : Optional.empty();
        }

        @Override
        public Optional<Secret> shared() {
            return Optional.of(Secret.of("for-all"));
        }

        @Override
        public Assigned assign(String caller) {
            return new Assigned(List.of(IpAddress.parse("10.99.0.2")), List.of(IpAddress.parse("10.20.0.53")));
        }

        @Override
        public void log(String line) {
            log.add(line);
        }
    }

    private IkeSettings settings(String proof, String secret, String offered, String tunnel) {
        CertificateKey key = CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
        boolean certificate = proof.equals("pubkey");
        return new IkeSettings(
                proof,
                Optional.of("mara"),
                certificate ? List.of(sign(Authority.Purpose.CLIENT, "mara", key)) : List.of(),
                certificate ? Optional.of(key) : Optional.empty(),
                Optional.of("mara"),
                secret.isEmpty() ? Optional.empty() : Optional.of(Secret.of(secret)),
                proof.equals("psk") ? "psk" : "pubkey",
                Optional.of(SERVER),
                List.of(authority.certificate()),
                offered,
                tunnel,
                List.of(Cidr.parse("10.20.7.0/24")),
                false,
                IkeSettings.PORT);
    }

    /** Carries packets until neither has anything to say. */
    private static void talk(IkeClient client, IkeServer server) {
        Instant now = Instant.now();
        for (int i = 0; i < 20; i++) {
            for (IkeClient.Sent sent : client.toSend(now)) {
                server.onPacket(sent.bytes(), sent.onNatPort()).forEach(p -> client.onPacket(p, sent.onNatPort()));
            }
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {
                "pubkey;;aes256gcm16-prfsha384-ecp384;aes256gcm16",
                "pubkey;;aes128-sha1-modp2048;aes128-sha1",
                "pubkey;;chacha20poly1305-prfsha256-curve25519;chacha20poly1305",
                "psk;for-all;aes256-sha512-modp1536;aes256-sha384",
                "eap-mschapv2;harbour;aes192-sha384-ecp521;aes192-sha256"
            })
    void bothSidesAgreeAndPacketsPassBothWays(String proof, String secret, String suite, String tunnel) {
        proposals = suite;
        tunnelProposals = tunnel;
        // the client's first group is another: it has to begin again with the server's
        IkeClient client = new IkeClient(
                settings(proof, secret == null ? "" : secret, "aes256-sha256-ecp256," + suite, tunnel), RANDOM);
        Rules rules = new Rules();
        IkeServer server = new IkeServer(rules, RANDOM);

        talk(client, server);

        assertThat(client.stage())
                .as(client.refused() + " " + client.broken() + rules.log)
                .isEqualTo(IkeClient.Stage.UP);
        assertThat(server.isUp()).isTrue();
        assertThat(client.assigned().addresses()).containsExactly(IpAddress.parse("10.99.0.2"));
        assertThat(client.assigned().dns()).containsExactly(IpAddress.parse("10.20.0.53"));
        assertThat(client.reach()).containsExactly(Cidr.parse("10.20.7.0/24"));
        byte[] packet = new IcmpEcho(
                        IpAddress.parse("10.99.0.2"), IpAddress.parse("10.20.7.1"), false, 1, 1, new byte[33])
                .encode();
        byte[] sealed = client.seal(packet);
        assertThat(server.open(sealed)).hasValueSatisfying(p -> assertThat(p).isEqualTo(packet));
        assertThat(server.open(sealed)).as("a second time").isEmpty();
        client.onPacket(server.seal(packet), true);
        assertThat(client.received()).hasValueSatisfying(p -> assertThat(p).isEqualTo(packet));
        server.onPacket(client.goodbye().orElseThrow(), true);
        assertThat(server.isEnded()).isTrue();
    }

    @Test
    void anAnswerThatTheLineDoubledOrHeldChangesNothing() {
        proposals = "aes256-sha256-ecp384";
        IkeClient client = new IkeClient(
                settings("pubkey", "", "aes256-sha256-ecp256,aes256-sha256-ecp384", tunnelProposals), RANDOM);
        IkeServer server = new IkeServer(new Rules(), RANDOM);
        Instant now = Instant.now();
        byte[] first = client.toSend(now).get(0).bytes();
        byte[] otherGroup = server.onPacket(first, false).get(0);

        for (int i = 0; i < 8; i++) {
            client.onPacket(otherGroup, false);
        }
        List<IkeClient.Sent> second = client.toSend(now);
        byte[] answer = server.onPacket(second.get(0).bytes(), false).get(0);
        client.onPacket(otherGroup, false);
        client.onPacket(answer, false);
        client.onPacket(otherGroup, false);
        client.onPacket(answer, false);
        talk(client, server);

        assertThat(second).as("one new first message, not one for each copy").hasSize(1);
        assertThat(client.stage()).as(client.refused() + " " + client.broken()).isEqualTo(IkeClient.Stage.UP);
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8})
    void whateverTheLineLosesOrDoublesIsMadeUpFor(long seed) {
        Random chance = new Random(seed);
        IkeClient client = new IkeClient(settings("pubkey", "", proposals, tunnelProposals), RANDOM);
        Rules rules = new Rules();
        IkeServer server = new IkeServer(rules, RANDOM);
        Instant now = Instant.now();
        int calls = 0;
        boolean lostOne = false;
        for (int i = 0; i < 60 && client.stage() != IkeClient.Stage.UP; i++) {
            for (IkeClient.Sent sent : client.toSend(now)) {
                calls++;
                if (chance.nextInt(3) == 0) {
                    lostOne = true;
                    continue;
                }
                for (byte[] answer : server.onPacket(sent.bytes(), sent.onNatPort())) {
                    if (chance.nextInt(3) == 0) {
                        lostOne = true;
                        continue;
                    }
                    client.onPacket(answer, sent.onNatPort());
                    client.onPacket(answer, sent.onNatPort());
                }
            }
            now = now.plusMillis(500);
        }
        boolean gaveUp = calls >= 8 && client.stage() != IkeClient.Stage.UP;
        assertThat(client.stage() == IkeClient.Stage.UP || gaveUp)
                .as("after " + calls + " calls")
                .isTrue();
        if (!lostOne) {
            assertThat(client.isLossy()).isFalse();
        }
        if (client.stage() == IkeClient.Stage.UP) {
            assertThat(client.toSend(now.plusSeconds(60))).as("says no more").isEmpty();
            assertThat(client.isWaiting()).isFalse();
            assertThat(rules.log).anyMatch(l -> l.contains("mara"));
        }
    }

    @Test
    void aDeadServerIsCalledAFewTimesWithLongerAndLongerWaits() {
        IkeClient client = new IkeClient(settings("pubkey", "", proposals, tunnelProposals), RANDOM);
        Instant began = Instant.now();
        List<Long> at = new ArrayList<>();
        byte[] first = null;
        for (int millis = 0; millis < 60_000; millis += 50) {
            List<IkeClient.Sent> sent = client.toSend(began.plusMillis(millis));
            if (!sent.isEmpty()) {
                assertThat(sent).hasSize(1);
                assertThat(sent.get(0).onNatPort()).isFalse();
                first = first == null ? sent.get(0).bytes() : first;
                assertThat(sent.get(0).bytes()).as("the same once more").isEqualTo(first);
                at.add((long) millis);
            }
        }
        assertThat(at).hasSizeBetween(3, 6).startsWith(0L);
        for (int i = 2; i < at.size(); i++) {
            assertThat(at.get(i) - at.get(i - 1)).isGreaterThanOrEqualTo(at.get(i - 1) - at.get(i - 2));
        }
        assertThat(client.isLossy()).isTrue();
        assertThat(client.isWaiting()).as("nothing was answered yet").isFalse();
        assertThat(client.goodbye()).isEmpty();
        assertThat(client.serverId()).isEmpty();
        assertThat(client.serverChain()).isEmpty();
        assertThat(client.algorithms()).isEmpty();
        assertThat(client.serverBehindNat()).isFalse();
        assertThat(client.proofHolds()).isFalse();
    }

    @Test
    void whatIsKnownOfBothSidesIsTold() {
        IkeClient client = new IkeClient(settings("pubkey", "", proposals, tunnelProposals), RANDOM);
        Rules rules = new Rules();
        IkeServer server = new IkeServer(rules, RANDOM);
        Instant now = Instant.now();
        byte[] call = client.toSend(now).get(0).bytes();
        assertThat(client.isLossy()).isFalse();
        byte[] answer = server.onPacket(call, false).get(0);
        assertThat(server.onPacket(call, false).get(0)).as("asked once more").isEqualTo(answer);
        client.onPacket(answer, false);
        assertThat(client.algorithms().orElseThrow()).startsWith("AES-256-GCM");
        assertThat(client.isWaiting()).isTrue();
        List<IkeClient.Sent> second = client.toSend(now);
        assertThat(second).allMatch(IkeClient.Sent::onNatPort);
        List<byte[]> letIn = new ArrayList<>();
        second.forEach(sent -> letIn.addAll(server.onPacket(sent.bytes(), true)));
        assertThat(server.onPacket(second.get(second.size() - 1).bytes(), true))
                .as("the same question has the same answer")
                .usingRecursiveComparison()
                .isEqualTo(letIn);
        letIn.forEach(p -> client.onPacket(p, true));

        assertThat(client.stage()).isEqualTo(IkeClient.Stage.UP);
        assertThat(client.serverId().map(Identification::words)).contains(SERVER);
        assertThat(client.serverChain()).hasSize(1);
        assertThat(client.serverChain().get(0)).isEqualTo(serverCertificate);
        assertThat(client.proofHolds()).isTrue();
        assertThat(client.algorithms()).contains("AES-256-GCM");
        client.calledAt(IpAddress.parse("192.0.2.1"), 500);
        assertThat(client.serverBehindNat())
                .as("the other side's own word fits no address")
                .isTrue();
        assertThat(server.caller()).isEqualTo("mara");
        assertThat(server.assigned().addresses()).containsExactly(IpAddress.parse("10.99.0.2"));
        assertThat(server.isEnded()).isFalse();

        assertThat(IkeServer.connectionOf(call, false)).contains(HEX.formatHex(call, 0, 8));
        assertThat(IkeServer.connectionOf(second.get(0).bytes(), true)).contains(HEX.formatHex(call, 0, 8));
        assertThat(IkeServer.connectionOf(new byte[27], false)).isEmpty();
        assertThat(IkeServer.connectionOf(new byte[31], true)).isEmpty();
        assertThat(IkeServer.connectionOf(new byte[28], false)).isPresent();
        byte[] sealed = client.seal(new byte[] {0x45, 0, 0, 20});
        assertThat(IkeServer.tunnelOf(sealed)).contains(server.tunnelNumber());
        assertThat(IkeServer.tunnelOf(second.get(0).bytes())).isEmpty();
        assertThat(IkeServer.tunnelOf(new byte[7])).isEmpty();

        byte[] other = call.clone();
        other[0] ^= 1;
        client.onPacket(other, false);
        assertThat(client.stage()).isEqualTo(IkeClient.Stage.UP);
        server.onPacket(client.goodbye().orElseThrow(), true);
        assertThat(server.isUp()).isFalse();
        assertThat(rules.log).last().asString().isEqualTo("ike: mara said goodbye");
    }

    @Test
    void aCookieIsGivenBackAndARefusalEndsIt() {
        IkeClient client = new IkeClient(settings("pubkey", "", proposals, tunnelProposals), RANDOM);
        Instant now = Instant.now();
        byte[] first = client.toSend(now).get(0).bytes();
        byte[] spiI = Arrays.copyOf(first, 8);
        client.onPacket(response(spiI, Notify.of(Notify.COOKIE, new byte[] {4, 2})), false);
        byte[] again = client.toSend(now).get(0).bytes();
        List<Payload> payloads = Message.read(again).payloads();
        assertThat(Notify.one(payloads, Notify.COOKIE))
                .hasValueSatisfying(n -> assertThat(n.data()).containsExactly(4, 2));
        assertThat(payloads.get(0).type()).as("it stands first").isEqualTo(Payload.NOTIFY);
        assertThat(Arrays.copyOf(again, 8)).isEqualTo(spiI);
        client.onPacket(response(spiI, Notify.of(Notify.COOKIE, new byte[] {4, 2})), false);
        assertThat(client.toSend(now)).as("a doubled answer").isEmpty();
        for (int i = 0; i < 20; i++) {
            client.onPacket(response(spiI, Notify.of(Notify.COOKIE, new byte[] {9, (byte) i})), false);
        }
        assertThat(client.stage()).isEqualTo(IkeClient.Stage.CALLING);
        client.onPacket(response(spiI, Notify.of(Notify.INVALID_KE, new byte[] {0, 99})), false);
        assertThat(client.refused()).as("a group that was not offered").contains("INVALID_KE_PAYLOAD");

        IkeClient other = new IkeClient(settings("pubkey", "", proposals, tunnelProposals), RANDOM);
        byte[] call = other.toSend(now).get(0).bytes();
        other.onPacket(response(new byte[8], Notify.of(Notify.NO_PROPOSAL_CHOSEN, new byte[0])), false);
        assertThat(other.refused()).as("another connection's").isEmpty();
        other.onPacket(response(Arrays.copyOf(call, 8), Notify.of(Notify.NO_PROPOSAL_CHOSEN, new byte[0])), false);
        assertThat(other.refused()).contains("NO_PROPOSAL_CHOSEN");
        assertThat(other.toSend(now.plusSeconds(60))).isEmpty();
    }

    private static byte[] response(byte[] spiI, Payload payload) {
        return Message.plain(spiI, new byte[8], Message.SA_INIT, Message.RESPONSE, 0, List.of(payload));
    }

    @Test
    void aServerThatWantsOtherAlgorithmsSaysSo() {
        proposals = "aes256-sha512-modp1536";
        Rules rules = new Rules();
        IkeClient client = new IkeClient(settings("pubkey", "", "aes128-sha256-ecp256", tunnelProposals), RANDOM);
        IkeServer server = new IkeServer(rules, RANDOM);
        talk(client, server);
        assertThat(client.refused()).contains("NO_PROPOSAL_CHOSEN");
        assertThat(rules.log).contains("ike: NO_PROPOSAL_CHOSEN");
        assertThat(server.isUp()).isFalse();

        proposals = "aes256gcm16-prfsha256-ecp256";
        tunnelProposals = "aes128gcm16";
        IkeClient tunnelless = new IkeClient(settings("pubkey", "", proposals, "aes256-sha256"), RANDOM);
        IkeServer strict = new IkeServer(new Rules(), RANDOM);
        talk(tunnelless, strict);
        assertThat(tunnelless.stage()).isNotEqualTo(IkeClient.Stage.UP);
        assertThat(tunnelless.refused()).contains("NO_PROPOSAL_CHOSEN");
        assertThat(strict.isUp()).isFalse();
    }

    @Test
    void onThePortForNatEverythingCarriesTheMarker() {
        IkeClient client =
                new IkeClient(settings("pubkey", "", proposals, tunnelProposals).calling(4500), RANDOM);
        IkeServer server = new IkeServer(new Rules(), RANDOM);
        List<IkeClient.Sent> first = client.toSend(Instant.now());
        assertThat(first).allMatch(IkeClient.Sent::onNatPort);
        assertThat(Arrays.copyOf(first.get(0).bytes(), 4)).containsOnly(0);
        byte[] answer = server.onPacket(first.get(0).bytes(), true).get(0);
        assertThat(Arrays.copyOf(answer, 4)).containsOnly(0);
        client.onPacket(Arrays.copyOfRange(answer, 4, answer.length), true);
        assertThat(client.stage()).as("without its marker it is none").isEqualTo(IkeClient.Stage.CALLING);
        client.onPacket(answer, true);
        assertThat(client.stage()).isEqualTo(IkeClient.Stage.ANSWERED);
        talk(client, server);
        assertThat(client.stage()).isEqualTo(IkeClient.Stage.UP);
    }

    @Test
    void whoCannotProveItIsRefusedAndAServerThatCannotIsLeft() {
        IkeClient wrong = new IkeClient(settings("psk", "another", proposals, tunnelProposals), RANDOM);
        talk(wrong, new IkeServer(new Rules(), RANDOM));
        assertThat(wrong.refused()).contains("AUTHENTICATION_FAILED");
        IkeClient word = new IkeClient(settings("eap-mschapv2", "wrong", proposals, tunnelProposals), RANDOM);
        talk(word, new IkeServer(new Rules(), RANDOM));
        assertThat(word.refused().orElseThrow()).startsWith("EAP: E=691");
        // a server with another's certificate
        CertificateKey other = CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
        IkeClient lied = new IkeClient(settings("pubkey", "", proposals, tunnelProposals), RANDOM);
        talk(
                lied,
                new IkeServer(
                        new IkeRules() {
                            private final Rules honest = new Rules();

                            @Override
                            public String identity() {
                                return honest.identity();
                            }

                            @Override
                            public List<byte[]> chain() {
                                return honest.chain();
                            }

                            @Override
                            public CertificateKey key() {
                                return other;
                            }

                            @Override
                            public String proposals() {
                                return honest.proposals();
                            }

                            @Override
                            public String tunnelProposals() {
                                return honest.tunnelProposals();
                            }

                            @Override
                            public List<Cidr> reach() {
                                return honest.reach();
                            }

                            @Override
                            public List<byte[]> authorities() {
                                return honest.authorities();
                            }

                            @Override
                            public Optional<String> refuses(List<byte[]> chain) {
                                return honest.refuses(chain);
                            }

                            @Override
                            public Optional<Secret> password(String account) {
                                return honest.password(account);
                            }

                            @Override
                            public Optional<Secret> shared() {
                                return honest.shared();
                            }

                            @Override
                            public Assigned assign(String caller) {
                                return honest.assign(caller);
                            }

                            @Override
                            public void log(String line) {
                                honest.log(line);
                            }
                        },
                        RANDOM));
        assertThat(lied.broken().orElseThrow()).contains("not made with the key of its certificate");
        assertThat(lied.stage()).isEqualTo(IkeClient.Stage.ANSWERED);
    }

    /** It lets everyone in, which an impostor likes to do, and does not know the secret. */
    @Test
    void anImpostorThatDoesNotKnowTheSharedSecretIsLeft() {
        Rules impostor = new Rules() {
            private int asked;

            @Override
            public Optional<Secret> shared() {
                asked++;
                return Optional.of(Secret.of(asked == 1 ? "for-all" : "a guess"));
            }
        };
        IkeClient fooled = new IkeClient(settings("psk", "for-all", proposals, tunnelProposals), RANDOM);
        talk(fooled, new IkeServer(impostor, RANDOM));

        assertThat(fooled.stage()).isEqualTo(IkeClient.Stage.ANSWERED);
        assertThat(fooled.broken()).isPresent();
        IkeClient right = new IkeClient(settings("psk", "for-all", proposals, tunnelProposals), RANDOM);
        talk(right, new IkeServer(new Rules(), RANDOM));
        assertThat(right.stage()).isNotEqualTo(IkeClient.Stage.ANSWERED);
    }

    /** RFC 2759 §9.2 and RFC 3079 §3.5.3. */
    @Test
    void passwordsAreProvenAsTheRfcShows() {
        MsChap exchange = new MsChap(
                "User",
                "clientPass",
                HEX.parseHex("5b5d7c7d7b3f2f3e3c2c602132262628"),
                HEX.parseHex("21402324255e262a28295f2b3a337c7e"));

        assertThat(HEX.formatHex(exchange.response())).isEqualTo("82309ecd8d708b5ea08faa3981cd83544233114a3d85d6df");
        assertThat(exchange.authenticator()).isEqualTo("S=407A5589115FD0D6209F510FE9C04566932CDA56");
        assertThat(HEX.formatHex(exchange.key(), 16, 32)).isEqualTo("8b7cdc149b993a1ba118cb153f56dccb");
    }

    @Test
    void proposalsAreReadWrittenAndChosen() {
        List<Proposal> all =
                Proposal.parse(Proposal.IKE, "aes256gcm16-prfsha384-ecp384,aes128-sha256-modp2048", new byte[0]);
        assertThat(Proposal.decode(Proposal.encode(all)).stream().map(Proposal::words))
                .containsExactly("AES-256-GCM, SHA384, ecp384", "AES-128-CBC, SHA256, modp2048, SHA256");
        assertThat(all.get(0).chosenBy(all.get(1))).isEmpty();
        assertThatThrownBy(() -> Proposal.parse(Proposal.IKE, "des-md5-modp768", new byte[0]))
                .isInstanceOf(MalformedException.class);
        assertThat(Selectors.decode(Selectors.encode(List.of(Cidr.parse("10.20.0.0/23"), Cidr.parse("fd00::/48")))))
                .containsExactly(Cidr.parse("10.20.0.0/23"), Cidr.parse("fd00::/48"));
    }

    @Test
    void whatAHostileServerSendsIsDroppedOrMalformedAndNothingElse() {
        Random random = new Random(11);
        Rules rules = new Rules();
        IkeClient honest = new IkeClient(settings("pubkey", "", proposals, tunnelProposals), RANDOM);
        IkeServer server = new IkeServer(rules, RANDOM);
        List<byte[]> seen = new ArrayList<>();
        Instant now = Instant.now();
        for (int i = 0; i < 6; i++) {
            for (IkeClient.Sent sent : honest.toSend(now)) {
                seen.add(sent.bytes());
                for (byte[] answer : server.onPacket(sent.bytes(), sent.onNatPort())) {
                    seen.add(answer);
                    honest.onPacket(answer, sent.onNatPort());
                }
            }
        }
        IkeClient fresh = new IkeClient(settings("pubkey", "", proposals, tunnelProposals), RANDOM);
        byte[] first = fresh.toSend(now).get(0).bytes();
        for (int i = 0; i < 60_000; i++) {
            byte[] packet = mutated(seen.get(random.nextInt(seen.size())), random);
            if (random.nextBoolean() && packet.length >= 8) {
                System.arraycopy(first, 0, packet, 0, 8); // as if it were an answer
            }
            honest.onPacket(packet, random.nextBoolean());
            fresh.onPacket(packet, random.nextBoolean());
            server.onPacket(packet, random.nextBoolean());
            server.open(packet);
        }
        assertThat(honest.stage()).isEqualTo(IkeClient.Stage.UP);
        for (int i = 0; i < 60_000; i++) {
            byte[] body = new byte[random.nextInt(60)];
            random.nextBytes(body);
            inside(() -> Payload.decode(33 + random.nextInt(25), body));
            inside(() -> Proposal.decode(body));
            inside(() -> Selectors.decode(body));
            inside(() -> Assigned.read(new Payload(Payload.CONFIGURATION, body)));
            inside(() -> Notify.read(new Payload(Payload.NOTIFY, body)));
            inside(() -> Identification.read(body).words());
            inside(() -> Proof.read(new Payload(Payload.AUTHENTICATION, body)).isBy(serverCertificate, body));
            inside(() -> new Eap("mara", "harbour", RANDOM).onPacket(body));
        }
    }

    private static byte[] mutated(byte[] from, Random random) {
        byte[] out = random.nextInt(4) == 0 ? Arrays.copyOf(from, random.nextInt(from.length + 1)) : from.clone();
        for (int i = 0; i < 1 + random.nextInt(3) && out.length > 0; i++) {
            out[random.nextInt(out.length)] ^= (byte) (1 << random.nextInt(8));
        }
        return out;
    }

    private static void inside(Runnable read) {
        try {
            read.run();
        } catch (MalformedException e) {
            assertThat(e.getMessage()).isNotEmpty();
        }
    }
}
