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
import tender.core.office.FilterRule;
import tender.core.office.Forward;
import tender.core.office.PortRange;
import tender.core.office.Protocol.Door;

/** Whatever decides which packets a device lets in is guarded by the way back; nothing else is. */
class ChangeStepsTest {
    private static final FilterRule RULE = new FilterRule(
            false, true, Optional.empty(), Optional.empty(), PortRange.ANY, Optional.empty(), Optional.empty(), "shut");

    private static final List<Change> GUARDED = List.of(
            new Change.PutRule(1, RULE),
            new Change.ReplaceRule(1, RULE),
            new Change.DropRule(1),
            new Change.MoveRule(2, 1),
            new Change.PutForward(new Forward(
                    Transport.TCP, new Port(22), IpAddress.parse("10.20.2.5"), new Port(22), "takes the way in")),
            new Change.DropForward(new Door(Transport.UDP, new Port(1194))));

    @Test
    void eachChangeOfFilterOrForwardsHasItsWayBack() {
        assertThat(GUARDED).allMatch(c -> ChangeSteps.couldCutOff(List.of(c)));
        assertThat(GUARDED).allMatch(c -> ChangeSteps.couldCutOff(List.of(new Change.SetClock(), c)));
    }

    @Test
    void othersWaitForNobody() {
        assertThat(ChangeSteps.couldCutOff(List.of())).isFalse();
        assertThat(ChangeSteps.couldCutOff(
                        List.of(new Change.SetClock(), new Change.TakeUp(), new Change.Retire("wg0"))))
                .isFalse();
    }

    @Test
    void aNewKindOfChangeIsPutOnOneSideOrTheOther() {
        Set<String> known = Stream.concat(
                        GUARDED.stream().map(c -> c.getClass().getSimpleName()),
                        Stream.of(
                                "SetListener",
                                "AddBeside",
                                "Retire",
                                "Demote",
                                "SetClock",
                                "TakeUp",
                                "PutNetwork",
                                "SetZone",
                                "RenewCertificate",
                                "RenewRevocations",
                                "UseCertificate",
                                "PutRevocations"))
                .collect(Collectors.toSet());
        assertThat(Arrays.stream(Change.class.getPermittedSubclasses()).map(Class::getSimpleName))
                .containsExactlyInAnyOrderElementsOf(known);
    }
}
