package tender.core.proposal;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.Test;
import tender.core.credential.RevealSecret;
import tender.core.credential.TunnelKeyPair;
import tender.core.office.Attribute;
import tender.core.office.Office;
import tender.core.wire.MalformedException;

class ProposingTest {
    private static final Instant NOW = Instant.parse("2026-12-01T12:00:00Z");
    private static final SecureRandom RANDOM = new SecureRandom();

    private final Map<String, byte[]> files = new LinkedHashMap<>();

    private void file(String path, TunnelKeyPair server, String endpoint, String address, String allowed) {
        TunnelKeyPair own = TunnelKeyPair.generate(RANDOM);
        String key = Base64.getEncoder().encodeToString(own.privateKey().reveal(RevealSecret.TO_WRITE_FILE));
        files.put(
                path,
                ("[Interface]\nPrivateKey = " + key + "\nAddress = " + address + "\n[Peer]\nPublicKey = "
                                + server.publicKey() + "\nEndpoint = " + endpoint + "\nAllowedIPs = " + allowed + "\n")
                        .getBytes(StandardCharsets.UTF_8));
    }

    private Proposal proposed(Proposal.Corrections corrections) {
        Office nothing = new Office(NOW, List.of(), Map.of(), List.of(), List.of(), Map.of());
        return Proposing.of(
                ClientFile.read(files, Optional.empty(), NOW).clients(),
                new Proposal.Known(nothing, Set.of(), List.of(), Map.of()),
                corrections);
    }

    @Test
    void oneServerCalledByNameAndAddressIsOneGateway() {
        TunnelKeyPair server = TunnelKeyPair.generate(RANDOM);
        file("ana.conf", server, "vpn.pier2.skerrivane.example:51820", "10.99.2.5/32", "10.20.4.0/24");
        file("bo.conf", server, "192.0.2.7:51820", "10.99.2.6/32", "10.20.4.0/24");

        Proposal p = proposed(Proposal.Corrections.NONE);

        assertThat(p.gateways()).singleElement().satisfies(g -> {
            assertThat(g.name()).isEqualTo("pier2");
            assertThat(g.hosts().toString()).isEqualTo("[vpn.pier2.skerrivane.example, 192.0.2.7]");
            assertThat(g.listeners()).singleElement().satisfies(l -> {
                assertThat(l.name()).isEqualTo("wireguard");
                assertThat(l.get(Attribute.TUNNEL_NETWORK)).contains("10.99.2.0/24");
                assertThat(l.get(Attribute.REACH)).contains("10.20.4.0/24");
            });
        });
        assertThat(p.sites())
                .singleElement()
                .satisfies(s -> assertThat(s.networks()).hasToString("{lan=10.20.4.0/24}"));
    }

    @Test
    void twoServersOnOneHostAreTwoListeners() {
        file("ana.conf", TunnelKeyPair.generate(RANDOM), "vpn.example:51820", "10.99.2.5/32", "0.0.0.0/0");
        file("bo.conf", TunnelKeyPair.generate(RANDOM), "vpn.example:51821", "10.99.3.6/32", "10.20.4.0/24");

        assertThat(proposed(Proposal.Corrections.NONE).gateways())
                .singleElement()
                .satisfies(g -> assertThat(g.listeners())
                        .extracting(l -> l.name())
                        .containsExactly("wireguard-udp-51820", "wireguard-udp-51821"));
    }

    @Test
    void aSecondFileOfAPersonAtAListenerIsAnotherDevices() {
        TunnelKeyPair server = TunnelKeyPair.generate(RANDOM);
        file("a/ana.conf", server, "vpn.example:51820", "10.99.2.5/32", "10.20.4.0/24");
        file("b/ana.conf", server, "vpn.example:51820", "10.99.2.6/32", "10.20.4.0/24");

        assertThat(proposed(Proposal.Corrections.NONE).people())
                .singleElement()
                .satisfies(a -> assertThat(a.devices())
                        .extracting(Proposal.Device::name)
                        .containsExactly("laptop", "laptop-2"));
    }

    @Test
    void officesThatReachTheSameNetworkAreOneSite() {
        file("ana.conf", TunnelKeyPair.generate(RANDOM), "one.a.example:51820", "10.99.2.5/32", "10.20.4.0/24");
        file("bo.conf", TunnelKeyPair.generate(RANDOM), "two.a.example:51820", "10.99.3.6/32", "10.20.4.0/25");
        file("cleo.conf", TunnelKeyPair.generate(RANDOM), "three.a.example:51820", "10.99.4.6/32", "10.20.9.0/24");

        assertThat(proposed(Proposal.Corrections.NONE).gateways())
                .extracting(Proposal.Gateway::name, Proposal.Gateway::site)
                .hasToString("[(\"one\", \"one\"), (\"two\", \"one\"), (\"three\", \"three\")]");
    }

    @Test
    void correctionsAreChecked() {
        file("wg0.conf", TunnelKeyPair.generate(RANDOM), "vpn.example:51820", "10.99.2.5/32", "10.20.4.0/24");

        assertThat(proposed(Proposal.Corrections.NONE).files().get(0).owner()).isEmpty();
        assertThatThrownBy(() -> proposed(new Proposal.Corrections(
                        Map.of(), Map.of(), Map.of(), Map.of("wg0.conf", "no device"), Set.of())))
                .isInstanceOf(MalformedException.class);
        assertThatThrownBy(() -> proposed(
                        new Proposal.Corrections(Map.of("vpn", "Not A Name"), Map.of(), Map.of(), Map.of(), Set.of())))
                .isInstanceOf(MalformedException.class);
        assertThatThrownBy(() -> proposed(
                        new Proposal.Corrections(Map.of(), Map.of(), Map.of("vpn", "lighthouse"), Map.of(), Set.of())))
                .isInstanceOf(MalformedException.class);
    }

    @Test
    void archivesInArchivesAreOpenedAsDeepAsDevicesPackThem() throws Exception {
        TunnelKeyPair server = TunnelKeyPair.generate(RANDOM);
        file("ana.conf", server, "pier2.skerrivane.example:51820", "10.99.2.5/32", "10.20.4.0/24");
        byte[] one = zip("ana.conf", files.remove("ana.conf"));
        byte[] deep = one;
        for (int i = 0; i < 4; i++) {
            deep = zip("more.zip", deep);
        }
        files.put("all.zip", zip("exports/ana.zip", one));
        files.put("too-deep.zip", deep);
        files.put("broken.zip", zip("half.zip", java.util.Arrays.copyOf(one, one.length / 2)));

        ClientFile.Found found = ClientFile.read(files, Optional.empty(), NOW);

        assertThat(found.clients()).extracting(ClientFile::path).containsExactly("all.zip/exports/ana.zip/ana.conf");
        assertThat(found.others())
                .extracting(o -> o.name())
                .containsExactlyInAnyOrder("too-deep.zip/more.zip/more.zip/more.zip", "broken.zip/half.zip");
    }

    private static byte[] zip(String name, byte[] content) throws Exception {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (ZipOutputStream zip = new ZipOutputStream(out)) {
            zip.putNextEntry(new ZipEntry(name));
            zip.write(content);
        }
        return out.toByteArray();
    }
}
