package tender.core.wireguard;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.security.SecureRandom;
import java.time.Instant;
import org.junit.jupiter.api.Test;
import tender.core.credential.TunnelKeyPair;
import tender.core.wire.MalformedException;

class StatusDumpTest {
    private static final SecureRandom RANDOM = new SecureRandom();

    private static String line(String key, String handshake) {
        return "wg0\t" + key + "\t(none)\t192.0.2.9:40000\t10.99.4.2/32,2001:db8::2/128\t" + handshake
                + "\t1234\t99\t25\n";
    }

    @Test
    void readsWhatTheToolsPrint() {
        String own = TunnelKeyPair.generate(RANDOM).publicKey().toString();
        String peer = TunnelKeyPair.generate(RANDOM).publicKey().toString();
        StatusDump dump =
                StatusDump.parse("wg0\t(none)\t" + own + "\t51820\toff\n" + line(peer, "1767225600") + line(own, "0"));

        StatusDump.Interface wg0 = dump.named("wg0").orElseThrow();
        assertThat(wg0.listenPort()).isEqualTo(51820);
        assertThat(wg0.peers()).hasSize(2);
        assertThat(wg0.peers().get(0).lastHandshake()).contains(Instant.parse("2026-01-01T00:00:00Z"));
        assertThat(wg0.peers().get(0).received()).isEqualTo(1234);
        assertThat(wg0.peers().get(1).lastHandshake()).isEmpty();
        assertThat(StatusDump.parse(dump.print())).isEqualTo(dump);
    }

    @Test
    void namesTheLineThatIsWrong() {
        String own = TunnelKeyPair.generate(RANDOM).publicKey().toString();
        assertThatThrownBy(() -> StatusDump.parse("wg0\t(none)\t" + own + "\t51820\toff\nwg0\tx\ty\n"))
                .isInstanceOfSatisfying(
                        MalformedException.class, e -> assertThat(e.place()).isEqualTo("line 2"));
        assertThatThrownBy(() -> StatusDump.parse("wg0\t(none)\t" + own + "\tmany\toff\n"))
                .isInstanceOf(MalformedException.class);
    }
}
