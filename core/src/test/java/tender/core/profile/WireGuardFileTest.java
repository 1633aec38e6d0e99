package tender.core.profile;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.security.SecureRandom;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.credential.RevealSecret;
import tender.core.credential.TunnelKey;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.wire.MalformedException;
import tender.core.wire.ParseProblem;

class WireGuardFileTest {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final TunnelKeyPair OWN = TunnelKeyPair.generate(RANDOM);
    private static final TunnelKey PEER = TunnelKeyPair.generate(RANDOM).publicKey();

    private static String privateText() {
        return java.util.Base64.getEncoder().encodeToString(OWN.privateKey().reveal(RevealSecret.TO_WRITE_FILE));
    }

    private static String sample() {
        return """
                # staff tunnel
                [Interface]
                PrivateKey = %s
                Address = 10.99.4.1/24, 2001:db8:99::1/64   # both families
                listenport=51820
                PostUp = iptables -A FORWARD -i %%i -j ACCEPT
                Colour = blue

                [Peer]
                # mara phone
                PublicKey = %s
                AllowedIPs = 10.99.4.2/32
                PersistentKeepalive = 25
                """.formatted(privateText(), PEER);
    }

    @Test
    void readsBothSectionsAndKeepsWhatItDoesNotKnow() {
        WireGuardFile.Reading reading = WireGuardFile.read(sample());

        WireGuardFile.Interface own = reading.file().own().orElseThrow();
        assertThat(own.listenPort().orElseThrow().number()).isEqualTo(51820);
        assertThat(own.addresses()).extracting(Object::toString).containsExactly("10.99.4.1/24", "2001:db8:99::1/64");
        assertThat(TunnelKeyPair.ofPrivate(own.privateKey().orElseThrow()).publicKey())
                .isEqualTo(OWN.publicKey());
        assertThat(reading.file().peer(PEER).orElseThrow().allows(IpAddress.parse("10.99.4.2")))
                .isTrue();
        assertThat(reading.problems())
                .containsExactly(new ParseProblem(7, "unknown-key", "Colour is not a known key here; kept as it is"));
        assertThat(reading.file().commands()).containsExactly("line 6: PostUp");
    }

    @ParameterizedTest
    @ValueSource(strings = {"\n", "\r\n"})
    void writesBackByteForByte(String ending) {
        String text = sample().replace("\n", ending);

        assertThat(WireGuardFile.read(text).file().text()).isEqualTo(text);
        assertThat(WireGuardFile.read(text.stripTrailing()).file().text()).isEqualTo(text.stripTrailing());
    }

    @ParameterizedTest
    @ValueSource(strings = {"\n", "\r\n"})
    void aPeerAddedAndRemovedLeavesTheFileAsItWas(String ending) {
        String text = sample().replace("\n", ending);
        TunnelKey fresh = TunnelKeyPair.generate(RANDOM).publicKey();
        String section = ClientProfile.gatewaySection(
                "ilse laptop", fresh, Optional.empty(), List.of(Cidr.parse("10.99.4.3/32")));

        WireGuardFile with = WireGuardFile.read(text).file().withPeer(section);

        assertThat(with.text()).startsWith(text);
        assertThat(with.peer(fresh)).isPresent();
        assertThat(with.withoutPeer(fresh).text()).isEqualTo(text);
        assertThat(with.withoutPeer(PEER).peer(fresh)).isPresent();
        assertThat(with.withoutPeer(PEER).peer(PEER)).isEmpty();
    }

    @ParameterizedTest
    @CsvSource({
        "PrivateKey = short, key, 2",
        "Address = 10.0.0.300/24, address, 2",
        "ListenPort = 70000, port, 2",
        "MTU = 12, number, 2",
        "just words, no-value, 2",
        "[Colour], unknown-section, 2",
        "Address = 10.0.0.1/33, prefix, 2"
    })
    void namesTheLineThatIsWrongAndNotTheValue(String line, String code, int number) {
        List<ParseProblem> problems =
                WireGuardFile.read("[Interface]\n" + line + "\n").problems();

        assertThat(problems).extracting(ParseProblem::code).contains(code);
        assertThat(problems).extracting(ParseProblem::line).contains(number);
        assertThat(problems.toString()).doesNotContain("short").doesNotContain("70000");
    }

    @Test
    void refusesMorePeersThanADeviceHoldsAndNamesTheLine() {
        String peers = "[Peer]\nAllowedIPs = 10.0.0.1/32\n".repeat(10_000);

        assertThatThrownBy(() -> WireGuardFile.read("[Interface]\n" + peers))
                .isInstanceOfSatisfying(
                        MalformedException.class, e -> assertThat(e.place()).isEqualTo("line 16386"));
        assertThatThrownBy(() -> WireGuardFile.read("x".repeat(WireGuardFile.MAX_CHARACTERS + 1)))
                .isInstanceOf(MalformedException.class);
    }

    @Test
    void survivesEveryTruncationAndManyMutations() {
        String text = sample();
        for (int end = 0; end < text.length(); end++) {
            assertThat(WireGuardFile.read(text.substring(0, end)).file().text()).hasSize(end);
        }
        Random random = new Random(7);
        for (int i = 0; i < 20_000; i++) {
            StringBuilder mutated = new StringBuilder(text);
            for (int n = random.nextInt(6); n >= 0; n--) {
                mutated.setCharAt(
                        random.nextInt(mutated.length()), (char) random.nextInt(random.nextBoolean() ? 128 : 0xffff));
            }
            assertThat(WireGuardFile.read(mutated.toString()).file().text()).isEqualTo(mutated.toString());
        }
    }
}
