package tender.core.office;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

class DisagreementTest {
    @Test
    void aTrialMaySeeMoreThanIsKnownInAnyOrderAndNothingElse() {
        assertThat(Disagreement.differ("10.20.0.53", "10.20.0.53")).isFalse();
        assertThat(Disagreement.differ("b.example, a.example", "A.example, b.example, c.example"))
                .isFalse();
        assertThat(Disagreement.differ("10.20.0.53, 10.20.0.54", "10.20.0.53")).isTrue();
        assertThat(Disagreement.differ("2027-01-01T00:00:00Z", "2026-01-01T00:00:00Z"))
                .isTrue();
    }
}
