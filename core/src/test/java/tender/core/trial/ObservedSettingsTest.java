package tender.core.trial;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;

class ObservedSettingsTest {
    private static Observation wireGuard(Observation.Path path) {
        return new Observation(
                Observation.Name.RESOLVED,
                Optional.of(IpAddress.parse("192.0.2.10")),
                path,
                Observation.Handshake.NOT_TRIED,
                Observation.Echo.NOT_TRIED,
                Observation.Echo.NOT_TRIED,
                List.of());
    }

    @Test
    void anAddressIsKnownOnlyOnceItAnswered() {
        assertThat(ObservedSettings.of(wireGuard(Observation.Path.ANSWERED)))
                .isEqualTo(Map.of(Attribute.ENDPOINT_ADDRESS, "192.0.2.10"));
        for (Observation.Path path : Observation.Path.values()) {
            if (path != Observation.Path.ANSWERED) {
                assertThat(ObservedSettings.of(wireGuard(path))).as("%s", path).isEmpty();
            }
        }
    }

    @Test
    void theOldestTlsVersionThatAListenerSpeaksIsItsMinimum() {
        Map<Attribute, String> seen = ObservedSettings.of(
                ProbeLadderTest.seen(Observation.Name.RESOLVED, Observation.Path.ANSWERED, true, List.of()));
        assertThat(seen)
                .containsEntry(Attribute.TLS_MINIMUM, "1.1")
                .containsEntry(Attribute.ENDPOINT_ADDRESS, "192.0.2.7");
    }

    @Test
    void whatIsToldFromElsewhereIsTakenOnlyWhereATrialCanSeeIt() {
        Map<Attribute, String> seen = Map.of(Attribute.TLS_VERSION, "1.3", Attribute.ENDPOINT_ADDRESS, "2001:db8::7");
        assertThat(ObservedSettings.read(ObservedSettings.words(seen))).isEqualTo(seen);
        assertThat(ObservedSettings.read(Map.of("endpoint-address", "no address", "peers", "9", "nothing", "1")))
                .isEmpty();
    }
}
