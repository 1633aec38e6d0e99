package tender.core.profile;

import static org.assertj.core.api.Assertions.assertThat;

import java.security.SecureRandom;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import org.junit.jupiter.api.Test;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;
import tender.core.network.Transport;

class ClientProfileTest {
    private static final SecureRandom RANDOM = new SecureRandom();

    private static ClientProfile profile(Optional<TunnelKeyPair> own, String title) {
        return new ClientProfile(
                title,
                own.map(TunnelKeyPair::privateKey),
                List.of(InterfaceAddress.parse("10.99.4.2/32")),
                List.of(IpAddress.parse("10.20.4.53")),
                OptionalInt.of(1420),
                TunnelKeyPair.generate(RANDOM).publicKey(),
                Optional.of(TunnelKeyPair.presharedKey(RANDOM)),
                Endpoint.parse("pier2.skerrivane.example:51820", Transport.UDP),
                List.of(Cidr.EVERYTHING_V4, Cidr.EVERYTHING_V6),
                OptionalInt.of(25));
    }

    @Test
    void isReadBackWithoutAProblem() {
        TunnelKeyPair own = TunnelKeyPair.generate(RANDOM);
        ClientProfile profile = profile(Optional.of(own), "mara-phone-pier2");

        WireGuardFile.Reading reading = WireGuardFile.read(profile.text());

        assertThat(reading.problems()).isEmpty();
        WireGuardFile.Peer peer = reading.file().peers().get(0);
        assertThat(peer.publicKey()).contains(profile.gatewayKey());
        assertThat(peer.presharedKey()).isEqualTo(profile.presharedKey());
        assertThat(peer.endpoint()).contains(profile.endpoint());
        assertThat(reading.file().own().orElseThrow().privateKey()).contains(own.privateKey());
    }

    @Test
    void leavesThePrivateKeyToTheDeviceThatMadeIt() {
        assertThat(profile(Optional.empty(), "x").text())
                .contains("# PrivateKey stays on the device")
                .doesNotContain("\nPrivateKey");
    }

    @Test
    void aTitleCannotBreakOutOfItsComment() {
        String text = profile(Optional.empty(), "x\n[Peer]\rPublicKey = y").text();

        assertThat(text.lines().filter(l -> l.startsWith("[Peer]"))).hasSize(1);
        assertThat(text.lines().findFirst()).contains("# x [Peer] PublicKey = y");
    }
}
