package tender.service.change;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Change;
import tender.core.office.DeviceChange;
import tender.core.office.FilterRule;
import tender.core.office.FirewallChange;
import tender.core.office.Forward;
import tender.core.office.ListenerChange;
import tender.core.office.PortRange;
import tender.core.office.Protocol.PortSpec;

/** Whatever decides which packets a device lets in is guarded by the rollback; nothing else is. */
class ChangeStepsTest {
    private static final FilterRule RULE = new FilterRule(
            false, true, Optional.empty(), Optional.empty(), PortRange.ANY, Optional.empty(), Optional.empty(), "shut");

    private static final List<Change> GUARDED = List.of(
            new FirewallChange.PutRule(1, RULE),
            new FirewallChange.ReplaceRule(1, RULE),
            new FirewallChange.DropRule(1),
            new FirewallChange.MoveRule(2, 1),
            new FirewallChange.PutForward(new Forward(
                    Transport.TCP, new Port(22), IpAddress.parse("10.20.2.5"), new Port(22), "takes the way in")),
            new FirewallChange.DropForward(new PortSpec(Transport.UDP, new Port(1194))));

    @Test
    void eachChangeOfFilterOrForwardsCanBeRolledBack() {
        assertThat(GUARDED).allMatch(c -> ChangeSteps.couldCutOff(List.of(c)));
        assertThat(GUARDED).allMatch(c -> ChangeSteps.couldCutOff(List.of(new DeviceChange.SetClock(), c)));
    }

    @Test
    void othersWaitForNobody() {
        assertThat(ChangeSteps.couldCutOff(List.of())).isFalse();
        assertThat(ChangeSteps.couldCutOff(List.of(
                        new DeviceChange.SetClock(),
                        new DeviceChange.Reload(),
                        new ListenerChange.RemoveListener("wg0"))))
                .isFalse();
    }

    @Test
    void aNewKindOfChangeIsPutOnOneSideOrTheOther() {
        Set<String> known = Stream.concat(
                        GUARDED.stream().map(c -> c.getClass().getSimpleName()),
                        Stream.of(
                                "SetListener",
                                "AddListener",
                                "RemoveListener",
                                "Demote",
                                "SetClock",
                                "Reload",
                                "PutNetwork",
                                "SetZone",
                                "RenewCertificate",
                                "RenewRevocations",
                                "UseCertificate",
                                "PutRevocations"))
                .collect(Collectors.toSet());
        assertThat(Arrays.stream(Change.class.getPermittedSubclasses())
                        .flatMap(kind -> Arrays.stream(kind.getPermittedSubclasses()))
                        .map(Class::getSimpleName))
                .containsExactlyInAnyOrderElementsOf(known);
    }
}
