package tender.core.proposal;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Duration;
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
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
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
                ClientFile.read(files, Optional.empty(), NOW),
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

    private void openVpn(String path, Authority authority, String more, String... hosts) {
        StringBuilder text = new StringBuilder("client\ndev tun\nproto udp\nremote-cert-tls server\n");
        for (String host : hosts) {
            text.append("remote ").append(host).append(" 1194\n");
        }
        text.append("<ca>\n")
                .append(PemText.write("CERTIFICATE", authority.certificate()))
                .append("</ca>\n")
                .append(more);
        files.put(path, text.toString().getBytes(StandardCharsets.ISO_8859_1));
    }

    private static Authority authority(String name) {
        return Authority.make(
                name,
                CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM),
                NOW,
                NOW.plus(Duration.ofDays(900)),
                RANDOM);
    }

    private static byte[] signed(Authority authority, Authority.Purpose purpose, String name) {
        return authority.sign(
                purpose,
                name,
                List.of(name),
                CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM).publicKey(),
                NOW,
                NOW.plus(Duration.ofDays(90)),
                Optional.empty(),
                RANDOM);
    }

    @Test
    void aFileThatCallsTwoOfficesInTurnDoesNotMakeThemOne() {
        Authority pier = authority("Pier");
        Authority slip = authority("Slip");
        openVpn("ana.ovpn", pier, "", "pier.a.example");
        openVpn("bo.ovpn", slip, "", "slip.a.example");
        openVpn("cleo.ovpn", slip, "", "pier.a.example", "slip.a.example");
        openVpn("dag.ovpn", pier, "", "pier.a.example", "pier-2.a.example");

        Proposal p = proposed(Proposal.Corrections.NONE);

        assertThat(p.gateways())
                .extracting(g -> g.name() + " " + g.hosts())
                .containsExactlyInAnyOrder("pier [pier.a.example, pier-2.a.example]", "slip [slip.a.example]");
        assertThat(p.files())
                .extracting(f -> f.file().path() + " " + f.gateway())
                .contains("cleo.ovpn slip", "dag.ovpn pier");
    }

    @Test
    void whatLiesLooseIsUsedWhereverItLies() {
        Authority authority = authority("Pier");
        byte[] server = signed(authority, Authority.Purpose.SERVER, "pier.a.example");
        byte[] ana = signed(authority, Authority.Purpose.CLIENT, "ana");
        byte[] bo = signed(authority, Authority.Purpose.CLIENT, "bo");
        openVpn(
                "clients/ana.ovpn",
                authority,
                "<cert>\n" + PemText.write("CERTIFICATE", ana) + "</cert>\n",
                "pier.a.example");
        openVpn(
                "clients/bo.ovpn",
                authority,
                "<cert>\n" + PemText.write("CERTIFICATE", bo) + "</cert>\n",
                "pier.a.example");
        openVpn("clients/cleo.ovpn", authority, "tls-crypt shared.key\n", "pier.a.example");
        files.put(
                "keys/shared.key",
                "-----BEGIN OpenVPN Static key V1-----\nab\n-----END OpenVPN Static key V1-----\n"
                        .getBytes(StandardCharsets.US_ASCII));
        files.put("server/pier.crt", server);
        files.put(
                "old/list.crl",
                authority.revocations(
                        List.of(new Authority.Revoked(CertificateFacts.of(bo).serial(), NOW, 1)),
                        2,
                        NOW,
                        NOW.plus(Duration.ofDays(9))));

        ClientFile.Found found = ClientFile.read(files, Optional.empty(), NOW);

        assertThat(found.clients())
                .extracting(c -> c.path() + " " + c.isRevoked())
                .containsExactly("clients/ana.ovpn false", "clients/bo.ovpn true", "clients/cleo.ovpn false");
        assertThat(found.clients().get(2).lacking())
                .as("its key lies in another folder")
                .isEmpty();
        assertThat(found.others())
                .extracting(o -> o.name())
                .containsExactlyInAnyOrder("keys/shared.key", "server/pier.crt", "old/list.crl");
        assertThat(proposed(Proposal.Corrections.NONE).gateways().get(0).listeners())
                .singleElement()
                .satisfies(l -> {
                    assertThat(l.get(Attribute.CERTIFICATE_EXPIRES))
                            .contains(CertificateFacts.of(server).ends().toString());
                    assertThat(l.get(Attribute.SERVER_NAMES)).contains("pier.a.example");
                });
    }

    @Test
    void aListOfSomebodyElseRevokesNothing() {
        Authority authority = authority("Pier");
        byte[] ana = signed(authority, Authority.Purpose.CLIENT, "ana");
        openVpn("ana.ovpn", authority, "<cert>\n" + PemText.write("CERTIFICATE", ana) + "</cert>\n", "pier.a.example");
        files.put(
                "list.crl",
                authority("Pier")
                        .revocations(
                                List.of(new Authority.Revoked(
                                        CertificateFacts.of(ana).serial(), NOW, 1)),
                                2,
                                NOW,
                                NOW.plus(Duration.ofDays(9))));

        assertThat(ClientFile.read(files, Optional.empty(), NOW)
                        .clients()
                        .get(0)
                        .isRevoked())
                .isFalse();
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
