package tender.core.office;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;

/** Changes as somebody makes them by hand. */
class HandStepsTest {
    private static final Forward FORWARD =
            new Forward(Transport.UDP, new Port(1194), IpAddress.parse("10.2.0.9"), new Port(11940), "");

    @Test
    void aForwardNamesEveryFieldAndIsTriedWhereItLeads() {
        HandSteps steps = HandSteps.of(new FirewallChange.PutForward(FORWARD));

        assertThat(steps.lines())
                .containsSubsequence(
                        "  protocol: UDP",
                        "  outside port: 1194",
                        "  inside address: 10.2.0.9",
                        "  inside port: 11940");
        assertThat(steps.tries().opened())
                .contains(new HandSteps.Opened(
                        Transport.UDP, PortRange.of(new Port(11940)), Optional.of(new Port(1194))));
    }

    @Test
    void aRuleSaysWhatItLeavesOpen() {
        FilterRule rule = new FilterRule(
                true,
                false,
                Optional.of(Side.OUTSIDE),
                Optional.of(Transport.TCP),
                PortRange.of(new Port(443)),
                Optional.empty(),
                Optional.of(Cidr.parse("10.2.0.9/32")),
                "");

        assertThat(HandSteps.of(new FirewallChange.PutRule(3, rule)).values())
                .containsEntry("place in the list", "3; the first rule that matches decides")
                .containsEntry("action", "allow")
                .containsEntry("source", "any")
                .containsEntry("destination", "10.2.0.9/32");
        assertThat(HandSteps.of(new FirewallChange.DropRule(3)).tries()).isEqualTo(HandSteps.Tries.NOTHING);
    }

    @Test
    void settingsAndListenersAreTriedAtTheListener() {
        HandSteps set = HandSteps.of(new ListenerChange.SetListener("staff", Map.of(Attribute.DNS, "10.2.0.53")));
        assertThat(set.values()).containsExactly(Map.entry("dns", "10.2.0.53"));
        assertThat(set.tries().settings()).containsExactly(Map.entry(Attribute.DNS, "10.2.0.53"));
        assertThat(HandSteps.of(new ListenerChange.AddListener("staff", "staff-443", Map.of(Attribute.PORT, "443")))
                        .tries()
                        .listener())
                .contains("staff-443");
        assertThat(HandSteps.of(new ListenerChange.PutRevocations("staff", "PEM"))
                        .paste())
                .containsExactly(Map.entry("revocation list", "PEM"));
    }

    @Test
    void everythingForAProfileNamesWhatItIsAbout() {
        for (HandWork work : HandWork.values()) {
            assertThat(HandSteps.of(work, "staff", "subject-1").values().values())
                    .as(work.word())
                    .containsExactly("subject-1");
        }
        assertThat(List.of(HandWork.values()).stream().filter(w -> !w.closes()).toList())
                .containsExactly(HandWork.ADMIT_PEER, HandWork.ADMIT_ACCOUNT);
    }
}
