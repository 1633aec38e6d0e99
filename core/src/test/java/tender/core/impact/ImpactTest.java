package tender.core.impact;

import static org.assertj.core.api.Assertions.assertThat;
import static tender.core.office.SoundOffice.device;
import static tender.core.office.SoundOffice.office;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import tender.core.finding.Finding;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.office.DeviceChange;
import tender.core.office.FirewallChange;
import tender.core.office.Forward;
import tender.core.office.ListenerChange;
import tender.core.office.Network;
import tender.core.office.Office;
import tender.core.office.Restart;
import tender.core.office.SoundOffice;

class ImpactTest {
    private static Impact.Preview set(String gateway, String listener, Attribute attribute, String value) {
        return Impact.of(
                office(), gateway, List.of(new ListenerChange.SetListener(listener, Map.of(attribute, value))));
    }

    @Test
    void aMovedPortNeedsANewHandoutForThoseWhoHoldFilesFieldByField() {
        Impact.Preview preview = set("pier2", "wg0", Attribute.PORT, "51999");

        assertThat(preview.restart()).isEqualTo(Restart.LISTENER);
        assertThat(preview.affected()).singleElement().satisfies(a -> {
            assertThat(a.issued().person()).isEqualTo("Mara Tveit");
            assertThat(a.fate()).isEqualTo(Impact.Fate.NEEDS_HANDOUT);
            assertThat(a.differences().stream().map(d -> d.words()))
                    .containsExactly(
                            "port was 51820, is 51999",
                            "endpoint was pier2.skerrivane.example:51820, is pier2.skerrivane.example:51999");
        });
        assertThat(preview.appears().stream().map(Finding::code))
                .contains("ports-disagree")
                .doesNotContain("file-out-of-date");
    }

    @Test
    void aSettingOfTheGatewayAloneConcernsNobodysFile() {
        Impact.Preview preview = set("slip-nas", "staff", Attribute.LIMIT_TOTAL, "40");

        assertThat(preview.affected()).isEmpty();
        assertThat(preview.works()).isEqualTo(1);
        assertThat(preview.restart()).isEqualTo(Restart.RELOAD);
    }

    @Test
    void renumberingANetworkConcernsEveryFileThatReachesItAndEveryRuleThatNamesIt() {
        Office.IssuedProfile mara = office().issuedProfiles().stream()
                .filter(h -> h.gateway().equals("pier2"))
                .findFirst()
                .orElseThrow();
        Map<Attribute, String> madeFor = new java.util.EnumMap<>(mara.madeFor());
        madeFor.put(Attribute.REACH, "10.20.4.0/24, 10.99.4.0/24, 192.0.2.7/32");
        Office before = new Office(
                office().now(),
                office().sites(),
                office().gateways(),
                office().joined(),
                List.of(new Office.IssuedProfile(
                        mara.profileId(),
                        mara.label(),
                        mara.person(),
                        mara.account(),
                        mara.gateway(),
                        mara.listener(),
                        madeFor,
                        mara.endpoints(),
                        false,
                        Optional.empty())),
                office().names());

        Impact.Preview preview = Impact.of(
                before,
                "pier2",
                List.of(new DeviceChange.PutNetwork(Network.plain("office", Cidr.parse("10.20.44.0/24")))));

        assertThat(preview.affected())
                .singleElement()
                .satisfies(a -> assertThat(a.differences().stream().map(d -> d.words()))
                        .containsExactly("reach was 10.20.4.0/24, is no network of ours"));
        assertThat(preview.appears().stream().map(Finding::code)).contains("network-gone");
    }

    @Test
    void nothingRestartsForAValueThatIsThere() {
        assertThat(set("pier2", "wg0", Attribute.PORT, "51820").restart()).isEqualTo(Restart.NONE);
    }

    @Test
    void aForwardThatGoesInFrontConcernsThoseBehind() {
        Impact.Preview preview = Impact.of(
                office(),
                "slip-front",
                List.of(
                        new FirewallChange.DropForward(
                                new tender.core.office.Protocol.PortSpec(Transport.UDP, new Port(1194))),
                        new FirewallChange.PutForward(
                                new Forward(Transport.UDP, new Port(1200), SoundOffice.NAS, new Port(1194), "NAS"))));

        assertThat(preview.affected()).singleElement().satisfies(a -> {
            assertThat(a.issued().person()).isEqualTo("Bram Osei");
            assertThat(a.differences().get(0).words())
                    .isEqualTo("endpoint was slip.skerrivane.example:1194, is slip.skerrivane.example:1200");
        });
    }

    @Test
    void aListenerBesideConcernsNobodyAndTheOldOnesRemovalItsUsers() {
        Office beside = Impact.of(
                        office(),
                        "pier2",
                        List.of(new ListenerChange.AddListener("wg0", "wg0-new", Map.of(Attribute.PORT, "443"))))
                .after();
        assertThat(Impact.of(
                                office(),
                                "pier2",
                                List.of(new ListenerChange.AddListener(
                                        "wg0", "wg0-new", Map.of(Attribute.PORT, "443"))))
                        .affected())
                .isEmpty();

        Impact.Preview removed = Impact.of(beside, "pier2", List.of(new ListenerChange.RemoveListener("wg0")));

        assertThat(removed.affected())
                .singleElement()
                .satisfies(a -> assertThat(a.differences().get(0).words()).isEqualTo("listener was wg0, is gone"));
    }

    @Test
    void aNewNameNeedsNewFilesAndAnUplinkBehindANameDoesNot() {
        Office o = office();
        Office.Gateway pier2 = o.gateway("pier2").orElseThrow();

        Impact.Preview renamed = Impact.ofRecords(
                o, pier2.withHosts(List.of(Host.parse("vpn.skerrivane.example"))), "endpoint vpn.skerrivane.example");
        assertThat(renamed.affected()).hasSize(1);

        Office.Gateway moved = pier2.withSaid(List.of(tender.core.office.Uplink.of(
                tender.core.office.Uplink.Kind.FIXED,
                java.util.Optional.of(IpAddress.parse("198.51.100.44")),
                pier2.said().get(0).name())));
        Impact.Preview line = Impact.ofRecords(o, moved, "uplink 198.51.100.44");
        assertThat(line.affected()).isEmpty();
        assertThat(line.appears().stream().map(Finding::code)).containsExactly("endpoint-name-elsewhere");
    }

    @Test
    void aChangeThatMendsSaysSo() {
        Office wrong = device(office(), "slip-front", d -> d.withForwards(List.of()));

        Impact.Preview preview = Impact.of(
                wrong,
                "slip-front",
                List.of(new FirewallChange.PutForward(
                        new Forward(Transport.UDP, new Port(1194), SoundOffice.NAS, new Port(1194), "NAS"))));

        assertThat(preview.vanishes().stream().map(Finding::code)).containsExactly("forward-missing");
        assertThat(preview.appears()).isEmpty();
    }
}
