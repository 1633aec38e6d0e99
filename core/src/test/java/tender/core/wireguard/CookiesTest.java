package tender.core.wireguard;

import static org.assertj.core.api.Assertions.assertThat;

import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import tender.core.credential.TunnelKeyPair;

class CookiesTest {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final HexFormat HEX = HexFormat.of();

    /** draft-irtf-cfrg-xchacha-03 §2.2.1 */
    @Test
    void theSubkeyIsAsTheDraftShows() {
        byte[] key = new byte[32];
        for (int i = 0; i < 32; i++) {
            key[i] = (byte) i;
        }
        assertThat(HEX.formatHex(Cookies.subkey(key, HEX.parseHex("000000090000004a0000000031415927"))))
                .isEqualTo("82413b4227b27bfed30e42508a877d73a0f9e4d58a74a853c12ec41326d3ecdc");
    }

    @Test
    void aCallerShowsTheCookieThatItWasGivenWithItsNextInitiation() {
        TunnelKeyPair server = TunnelKeyPair.generate(RANDOM);
        Initiator caller = new Initiator(
                TunnelKeyPair.generate(RANDOM), server.publicKey(), Optional.empty(), Duration.ofSeconds(1), RANDOM);
        Instant now = Instant.now();
        byte[] first = caller.start(now).bytes();
        assertThat(Arrays.copyOfRange(first, 132, 148)).as("no second MAC yet").containsOnly(0);
        Packets.Initiation read = (Packets.Initiation) Packets.decode(first).orElseThrow();
        byte[] cookie = new byte[16];
        RANDOM.nextBytes(cookie);
        byte[] mac1 = Arrays.copyOfRange(first, 116, 132);
        byte[] reply = Cookies.seal(server.publicKey(), read.sender(), cookie, mac1, RANDOM)
                .encode();
        assertThat(reply).hasSize(Packets.COOKIE_REPLY_BYTES);
        byte[] flipped = reply.clone();
        flipped[40] ^= 1;
        assertThat(caller.onDatagram(flipped, now).kind()).isEqualTo(Initiator.Kind.NOTHING);

        assertThat(caller.onDatagram(reply, now).kind()).isEqualTo(Initiator.Kind.PEER_UNDER_LOAD);

        byte[] second = caller.onTick(now.plusSeconds(2)).bytes();
        assertThat(Arrays.copyOfRange(second, 132, 148)).isEqualTo(Cookies.mac2(second, cookie));
        byte[] late = caller.onTick(now.plusSeconds(200)).bytes();
        assertThat(Arrays.copyOfRange(late, 132, 148)).as("cookies grow old").containsOnly(0);
    }
}
