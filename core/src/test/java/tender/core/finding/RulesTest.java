package tender.core.finding;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import tender.core.finding.Office.HandedOut;
import tender.core.finding.Office.Listener;
import tender.core.finding.Office.ListenerSettings;
import tender.core.finding.Office.SiteNetwork;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.Transport;

class RulesTest {
    private static final ListenerSettings NOW =
            new ListenerSettings("KEY", 51820, "pier2.skerrivane.example:51820", "10.99.4.0/24");

    private static Listener listener(String domain, String tunnel, String endpoint) {
        return new Listener(
                "l1",
                domain,
                "pier2",
                "wg0",
                List.of(Cidr.parse(tunnel)),
                Optional.of(Endpoint.parse(endpoint, Transport.UDP)),
                NOW);
    }

    private static List<String> codes(List<SiteNetwork> networks, Listener listener, List<HandedOut> handedOut) {
        return Rules.evaluate(new Office(networks, List.of(listener), handedOut)).stream()
                .map(Finding::code)
                .toList();
    }

    private static List<SiteNetwork> office(String domain) {
        return List.of(new SiteNetwork(domain, "pier-two", "office", Cidr.parse("10.20.4.0/24")));
    }

    @Test
    void aSoundOfficeHasNoFinding() {
        assertThat(codes(
                        office("company"),
                        listener("company", "10.99.4.0/24", "pier2.skerrivane.example:51820"),
                        List.of()))
                .isEmpty();
    }

    @Test
    void findsATunnelThatSharesAddressesWithASiteOfItsDomainOnly() {
        assertThat(codes(
                        office("company"),
                        listener("company", "10.20.0.0/16", "pier2.skerrivane.example:1"),
                        List.of()))
                .containsExactly("tunnel-overlaps-site");
        assertThat(codes(
                        office("company"),
                        listener("company", "10.20.4.128/25", "pier2.skerrivane.example:1"),
                        List.of()))
                .containsExactly("tunnel-overlaps-site");
        assertThat(codes(
                        office("leased"), listener("company", "10.20.0.0/16", "pier2.skerrivane.example:1"), List.of()))
                .isEmpty();
    }

    @Test
    void findsEndpointsNobodyCanCall() {
        assertThat(codes(List.of(), listener("company", "10.99.4.0/24", "your-server:51820"), List.of()))
                .containsExactly("endpoint-placeholder");
        assertThat(codes(List.of(), listener("company", "10.99.4.0/24", "192.168.1.1:51820"), List.of()))
                .containsExactly("endpoint-private");
    }

    @Test
    void findsFilesThatTheListenerNoLongerFitsAndNamesTheFields() {
        ListenerSettings then = new ListenerSettings("KEY", 51821, NOW.endpoint(), NOW.tunnels());
        Office office = new Office(
                List.of(),
                List.of(listener("company", "10.99.4.0/24", "pier2.skerrivane.example:51820")),
                List.of(
                        new HandedOut("p1", "mara-phone-pier2", "Mara", "l1", then),
                        new HandedOut("p2", "ilse-laptop-pier2", "Ilse", "l1", NOW)));

        List<Finding> findings = Rules.evaluate(office);

        assertThat(findings).hasSize(1);
        assertThat(findings.get(0).subject()).isEqualTo("mara-phone-pier2");
        assertThat(findings.get(0).evidence()).isEqualTo("port was 51821, is 51820");
        assertThat(findings.get(0).remedy()).contains("tender profile renew mara-phone-pier2");
    }
}
