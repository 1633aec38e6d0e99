package tender.core.network;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.wire.MalformedException;

class EndpointTest {
    @ParameterizedTest
    @ValueSource(strings = {"pier2.skerrivane.example:51820", "192.0.2.7:1", "[2001:db8::7]:65535"})
    void comesBackAsWritten(String text) {
        assertThat(Endpoint.parse(text, Transport.UDP)).hasToString(text);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "pier2",
                ":51820",
                "pier2:0",
                "pier2:65536",
                "pier2:08",
                "2001:db8::7:51820",
                "a;reboot:1",
                "pier 2:1",
                "-a.example:1",
                "a..example:1",
                "1.2.3:4"
            })
    void refusesAnythingElse(String text) {
        assertThatThrownBy(() -> Endpoint.parse(text, Transport.UDP)).isInstanceOf(MalformedException.class);
    }

    @ParameterizedTest
    @CsvSource({
        "your-server:1, true, false", "vpn.example.com:1, true, false", "0.0.0.0:1, true, false",
                "10.1.2.3:1, false, true",
        "192.168.0.1:1, false, true", "100.64.0.9:1, false, true", "[fd00::1]:1, false, true",
                "203.0.113.5:1, false, false",
        "pier2.skerrivane.example:1, false, false"
    })
    void tellsPlaceholdersAndInsideAddresses(String text, boolean placeholder, boolean inside) {
        Endpoint endpoint = Endpoint.parse(text, Transport.UDP);

        assertThat(endpoint.isPlaceholder()).isEqualTo(placeholder);
        assertThat(endpoint.isPrivate()).isEqualTo(inside);
    }

    @Test
    void aHostNameIsAtMost253CharactersInLabelsOf63() {
        assertThat(HostName.parse("Pier2.Skerrivane.Example.").text()).isEqualTo("pier2.skerrivane.example");
        assertThatThrownBy(() -> HostName.parse("a".repeat(64) + ".example")).isInstanceOf(MalformedException.class);
        assertThatThrownBy(() -> HostName.parse("a.".repeat(130) + "example")).isInstanceOf(MalformedException.class);
    }
}
