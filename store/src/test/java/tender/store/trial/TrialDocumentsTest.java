package tender.store.trial;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Optional;
import org.junit.jupiter.api.Test;

/** Rows as the releases before kept them, with a field that this one has never heard of. */
class TrialDocumentsTest {
    @Test
    void whatATrialShowedIsRead() {
        assertThat(TrialDocuments.CLAIMS.read("""
                        [{"kind": "connects", "shown": true, "words": "connects"},
                         {"kind": "reaches", "shown": false, "words": "does not reach 10.20.4.20", "since": "2027"}]"""))
                .containsExactly(
                        new TrialDocuments.Claim("connects", true, "connects"),
                        new TrialDocuments.Claim("reaches", false, "does not reach 10.20.4.20"));
        assertThat(TrialDocuments.CAUSES.read("""
                        [{"code": "host-silent", "certainty": "likely", "what": "it is off", "remedy": "turn it on",
                          "seen": 3}]"""))
                .containsExactly(new TrialDocuments.Cause("host-silent", "likely", "it is off", "turn it on"));
        assertThat(TrialDocuments.ASKED.read("{\"echoes\": 5, \"size\": false, \"insideName\": null, \"later\": 1}"))
                .isEqualTo(new TrialDocuments.Asked(5, false, Optional.empty()));
    }

    @Test
    void whatATrialMeasuredIsRead() {
        TrialDocuments.Measured measured = TrialDocuments.MEASURED.read("""
                {"echoes": 20, "lostPercent": 0.0, "leastMillis": 1.5, "meanMillis": 2.25, "mostMillis": 9.0,
                 "largestPacket": 1420,
                 "name": {"name": "files.skerrivane.example", "server": "10.20.4.2", "answered": true, "address": "10.20.4.20"},
                 "exit": {"full": true, "direct": "192.0.2.9", "through": "203.0.113.7", "holds": true, "words": "leaves there"},
                 "transfer": {"bytes": 1000, "millis": 2.0, "megabits": 4.0, "words": "4 Mbit/s", "jitter": 0.1},
                 "hops": 4}""");

        assertThat(measured.largestPacket()).contains(1420);
        assertThat(measured.name().orElseThrow().address()).contains("10.20.4.20");
        assertThat(measured.exit().orElseThrow().through()).contains("203.0.113.7");
        assertThat(measured.transfer().orElseThrow().megabits()).isEqualTo(4.0);
        assertThat(TrialDocuments.MEASURED.read(TrialDocuments.MEASURED.write(measured)))
                .isEqualTo(measured);
    }
}
