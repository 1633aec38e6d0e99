package tender.service.office;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.core.type.TypeReference;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import tender.api.TrialApi;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.Device;
import tender.core.office.ListenerChange;
import tender.core.wire.MalformedException;
import tender.store.document.Document;

/** Rows of the office as the release before kept them, with fields that this one has never heard of. */
class OfficeDocumentsTest {
    private static final String DEVICE_OF_BEFORE = """
            {"make": "Tidewright", "zone": "Europe/Oslo", "model": "Pier 4", "colour": "grey", "filter": {"rules": [
               {"via": "outside", "allow": true, "label": "staff tunnel", "ports": "51820", "source": null, "toDevice": true,
                "transport": "udp", "destination": null, "hits": 9},
               {"via": "inside", "allow": true, "label": "", "ports": "any", "source": null, "toDevice": false,
                "transport": null, "destination": null}], "otherwiseAllow": false},
             "release": "3.2.1", "uplinks": [], "accounts": [], "forwards": [], "networks": [],
             "listeners": [{"name": "wg0", "values": {"port": "51820", "peers": "0", "tunnel-network": "10.98.1.0/24",
               "protocol": "wireguard", "transport": "udp", "inside-address": "10.98.1.1"}}],
             "insideHost": null, "interfaces": [], "clockOffset": null}""";

    @Test
    void aDeviceIsReadAndKeptAgain() {
        Device device = OfficeDocuments.DEVICE.read(DEVICE_OF_BEFORE);

        assertThat(device.model()).isEqualTo("Pier 4");
        assertThat(device.listener("wg0").orElseThrow().get(Attribute.PORT)).contains("51820");
        assertThat(device.filter().rules()).hasSize(2);
        assertThat(OfficeDocuments.DEVICE.read(OfficeDocuments.DEVICE.write(device)))
                .isEqualTo(device);
    }

    @Test
    void uplinksAndChangesAreRead() {
        assertThat(OfficeDocuments.UPLINKS.read("""
                        [{"kind": "fixed", "name": null, "label": "main", "behind": null, "address": "198.51.100.27",
                          "upMegabits": 0, "downMegabits": 0, "provider": "Skerrivane Line"}]""")).hasSize(1);
        List<Change> changes = OfficeDocuments.CHANGES.read("""
                [{"change": "set-listener", "values": {"limit-total": "8"}, "listener": "l2tp"},
                 {"change": "put-forward", "forward": {"to": "10.20.2.6", "port": "51877", "label": "slip-yard",
                  "toPort": "51877", "transport": "udp"}, "note": "later"}]""");
        assertThat(changes.get(0))
                .isEqualTo(new ListenerChange.SetListener("l2tp", Map.of(Attribute.LIMIT_TOTAL, "8")));
        assertThat(OfficeDocuments.CHANGES.read(OfficeDocuments.CHANGES.write(changes)))
                .isEqualTo(changes);
    }

    /** A change that this release cannot make must not be left out as if nobody had ordered it. */
    @Test
    void aChangeOfAnotherKindIsNotLeftOut() {
        assertThatThrownBy(() -> OfficeDocuments.CHANGES.read("[{\"change\": \"repaint\", \"colour\": \"red\"}]"))
                .isInstanceOf(MalformedException.class)
                .hasMessageContaining("changes");
    }

    @Test
    void recordsOfTheApiAreNeverKept() {
        assertThatThrownBy(() -> Document.of("trials", new TypeReference<List<TrialApi.Trial>>() {}))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining("TrialApi$Trial");
    }
}
