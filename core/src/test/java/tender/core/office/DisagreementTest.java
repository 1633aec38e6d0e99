package tender.core.office;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

class DisagreementTest {
    @Test
    void aTrialMaySeeMoreThanIsKnownInAnyOrderAndNothingElse() {
        assertThat(Disagreement.differ(Attribute.DNS, "10.20.0.53", "10.20.0.53"))
                .isFalse();
        assertThat(Disagreement.differ(Attribute.DNS, "b.example, a.example", "A.example, b.example, c.example"))
                .isFalse();
        assertThat(Disagreement.differ(Attribute.DNS, "10.20.0.53, 10.20.0.54", "10.20.0.53"))
                .isTrue();
        assertThat(Disagreement.differ(Attribute.DNS, "2027-01-01T00:00:00Z", "2026-01-01T00:00:00Z"))
                .isTrue();
        assertThat(Disagreement.differ(Attribute.CIPHERS, "AES-256-GCM, AES-128-GCM", "AES-128-GCM"))
                .as("one of those that are allowed was agreed on")
                .isFalse();
        assertThat(Disagreement.differ(Attribute.CIPHERS, "AES-256-GCM", "AES-128-CBC"))
                .isTrue();
    }
}
