package tender.core.inspect;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** What is said of an IKEv2 client file that believes too much. */
class IkeNotesTest {
    private static final String FILE = """
            connections {
                pier {
                    version = 2
                    remote_addrs = orrin.skerrivane.example
                    local { auth = pubkey
                    certs = mara.pem }
                    remote { auth = pubkey
                    id = orrin.skerrivane.example }
                    children { net { remote_ts = 10.20.0.0/24 } }
                }
            }
            """;

    private static List<Hint> hints(String text) {
        return Inspector.of("pier.conf", text.getBytes(StandardCharsets.UTF_8), Instant.now(), Optional.empty())
                .allNotes()
                .stream()
                .map(n -> n.hint())
                .toList();
    }

    @Test
    void aFileThatBelievesAnyServerIsWarnedOf() {
        assertThat(hints(FILE)).doesNotContain(Hint.SERVER_UNCHECKED);
        assertThat(hints(FILE.replace("id = orrin.skerrivane.example", "id = %any")))
                .contains(Hint.SERVER_UNCHECKED);
    }

    @Test
    void aFileThatDoesNotAskForRevocationIsWarnedOf() {
        assertThat(hints(FILE)).doesNotContain(Hint.CHECK_OFF);
        assertThat(hints(FILE.replace(
                        "auth = pubkey\n        id", "auth = pubkey\n        revocation = ifuri\n        id")))
                .contains(Hint.CHECK_OFF);
        assertThat(hints(FILE.replace("id = orrin", "revocation = strict\n id = orrin")))
                .doesNotContain(Hint.CHECK_OFF);
    }
}
