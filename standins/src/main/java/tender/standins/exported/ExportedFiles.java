package tender.standins.exported;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.credential.TunnelKeyPair;
import tender.core.profile.StaticKey;

/**
 * Fourteen files of nine people with eleven devices, as four devices export them: a firewall and a NAS with OpenVPN, two routers with
 * WireGuard. On one file of the NAS a placeholder stands for the host; the last router's files call a private address, and one of
 * them has no key.
 */
public final class ExportedFiles {
    /** A server's end, to run it for real: PEM texts of OpenVPN, the private key of WireGuard. */
    public record OpenVpnEnd(String authority, String certificate, String key, String tlsCrypt) {}

    /** Where the devices are called: host and port. */
    public record Place(String host, int port) {}

    private static final Duration LIFE = Duration.ofDays(700);

    private final SecureRandom random = new SecureRandom();
    private final Instant now;
    private final Map<String, byte[]> files = new LinkedHashMap<>();
    private final Map<String, OpenVpnEnd> openVpn = new LinkedHashMap<>();
    private final Map<String, TunnelKeyPair> wireGuard = new LinkedHashMap<>();
    private final Map<String, TunnelKeyPair> peers = new LinkedHashMap<>();

    /** As the firewall, the NAS and the routers are usually called. */
    public static final List<Place> PLACES = List.of(
            new Place("vpn.orrin.skerrivane.example", 1194),
            new Place("nas.slip.skerrivane.example", 443),
            new Place("pier2.skerrivane.example", 51820),
            new Place("192.168.77.1", 51820));

    /** The usual places with another in the place of one. */
    public static List<Place> places(int which, Place at) {
        List<Place> out = new ArrayList<>(PLACES);
        out.set(which, at);
        return out;
    }

    /** @param places of firewall, NAS and the two routers */
    public ExportedFiles(Instant now, List<Place> places) {
        this.now = now;
        firewall(places.get(0));
        nas(places.get(1));
        router(places.get(2));
        secondRouter(places.get(3));
        text("readme.txt", "Exported from the offices' devices.\n");
        text("notes.txt", "orrin: ask for Ana's new laptop\n");
    }

    /** Contents by name. */
    public Map<String, byte[]> files() {
        return Map.copyOf(files);
    }

    /** The servers' ends of {@code orrin} and {@code slip}. */
    public OpenVpnEnd openVpn(String gateway) {
        return openVpn.get(gateway);
    }

    /** The server's key pair of {@code pier2} and {@code pier5}. */
    public TunnelKeyPair wireGuard(String gateway) {
        return wireGuard.get(gateway);
    }

    /** The key pair in a file, by the file's name. */
    public TunnelKeyPair peer(String file) {
        return peers.get(file);
    }

    public void write(Path folder) throws IOException {
        Files.createDirectories(folder);
        for (Map.Entry<String, byte[]> f : files.entrySet()) {
            Files.write(folder.resolve(f.getKey()), f.getValue());
        }
    }

    private void text(String name, String text) {
        files.put(name, text.getBytes(StandardCharsets.UTF_8));
    }

    private CertificateKey key() {
        return CertificateKey.generate(CertificateKey.Kind.EC_P256, random);
    }

    static String pem(String label, byte[] der) {
        return PemText.write(label, der).strip() + "\n";
    }

    static String pem(CertificateKey key) {
        return pem("PRIVATE KEY", key.privateKey().reveal(RevealSecret.TO_WRITE_FILE));
    }

    private byte[] sign(Authority authority, Authority.Purpose purpose, String name, CertificateKey key) {
        return authority.sign(
                purpose, name, List.of(name), key.publicKey(), now, now.plus(LIFE), Optional.empty(), random);
    }

    private Authority authority(String gateway, String server) {
        Authority authority = Authority.make("Office " + gateway, key(), now, now.plus(LIFE), random);
        CertificateKey key = key();
        openVpn.put(
                gateway,
                new OpenVpnEnd(
                        pem("CERTIFICATE", authority.certificate()),
                        pem("CERTIFICATE", sign(authority, Authority.Purpose.SERVER, server, key)),
                        pem(key),
                        StaticKey.generate(random)));
        return authority;
    }

    /** A part of an OpenVPN file. */
    public static String block(String name, String content) {
        return "<" + name + ">\n" + content.strip() + "\n</" + name + ">\n";
    }

    private void firewall(Place place) {
        Authority authority = authority("orrin", "orrin.skerrivane.example");
        OpenVpnEnd end = openVpn.get("orrin");
        String common = "client\ndev tun\nproto udp\nremote " + place.host() + " " + place.port()
                + "\nnobind\npersist-tun\nremote-cert-tls server\ndata-ciphers AES-256-GCM\nauth SHA256\n"
                + "route 10.20.0.0 255.255.255.0\n";
        Map<String, String> names = new LinkedHashMap<>();
        names.put("ana-torres-laptop.ovpn", "ana-torres");
        names.put("client-2.ovpn", "bo.lind");
        names.forEach((file, name) -> {
            CertificateKey own = key();
            text(
                    file,
                    common
                            + block("ca", end.authority)
                            + block("cert", pem("CERTIFICATE", sign(authority, Authority.Purpose.CLIENT, name, own)))
                            + block("key", pem(own))
                            + block("tls-crypt", end.tlsCrypt));
        });
        CertificateKey cleo = key();
        Map<String, String> parts = new LinkedHashMap<>();
        parts.put("cleo/orrin.ovpn", common + "ca ca.crt\ncert cleo.crt\nkey cleo.key\ntls-crypt shared.key\n");
        parts.put("cleo/ca.crt", end.authority);
        parts.put("cleo/cleo.crt", pem("CERTIFICATE", sign(authority, Authority.Purpose.CLIENT, "cleo", cleo)));
        parts.put("cleo/cleo.key", pem(cleo));
        parts.put("cleo/shared.key", end.tlsCrypt);
        files.put("cleo.zip", zip(parts));
        text("orrin-ca.crt", end.authority);
        files.put(
                "orrin-revoked.crl",
                pem("X509 CRL", authority.revocations(List.of(), 1, now, now.plus(LIFE)))
                        .getBytes(StandardCharsets.US_ASCII));
    }

    private void nas(Place place) {
        authority("slip", "slip.skerrivane.example");
        OpenVpnEnd end = openVpn.get("slip");
        Map<String, String> parts = new LinkedHashMap<>();
        parts.put("dag/office.ovpn", nasFile(place.host() + " " + place.port(), "dag", end));
        parts.put("eli/office.ovpn", nasFile(place.host() + " " + place.port(), "eli", end));
        files.put("nas-export.zip", zip(parts));
        text("finn.ovpn", nasFile("PUT_NAME_HERE " + place.port(), "finn", end));
    }

    private static String nasFile(String remote, String account, OpenVpnEnd end) {
        return "client\ndev tun\nproto tcp\nremote " + remote
                + "\nnobind\npersist-tun\nremote-cert-tls server\ndata-ciphers AES-256-GCM\nauth SHA256\n"
                + "route 10.20.2.0 255.255.255.0\ndhcp-option DNS 10.20.2.1\n"
                + block("auth-user-pass", account + "\nsecret-of-" + account)
                + block("ca", end.authority);
    }

    private void router(Place place) {
        wireGuard.put("pier2", TunnelKeyPair.generate(random));
        peer("ana-torres-phone.conf", "pier2", place, "10.99.2.11/32", "10.20.4.0/24, 10.99.2.0/24");
        peer("gia.conf", "pier2", place, "10.99.2.12/32", "10.20.4.0/24, 10.99.2.0/24");
        peer("hal-phone.conf", "pier2", place, "10.99.2.13/32", "10.20.4.0/24, 10.99.2.0/24");
    }

    private void secondRouter(Place place) {
        wireGuard.put("pier5", TunnelKeyPair.generate(random));
        peer("ivo-laptop.conf", "pier5", place, "10.99.5.11/32", "10.20.5.0/24");
        peer("ivo-phone.conf", "pier5", place, "10.99.5.12/32", "10.20.5.0/24");
        String whole = new String(files.get("ivo-phone.conf"), StandardCharsets.UTF_8);
        text("ivo-phone.conf", whole.replaceFirst("PrivateKey = [^\n]*\n", ""));
    }

    private void peer(String file, String gateway, Place place, String address, String allowed) {
        TunnelKeyPair own = TunnelKeyPair.generate(random);
        peers.put(file, own);
        text(
                file,
                "[Interface]\nPrivateKey = " + text(own) + "\nAddress = "
                        + address + "\n\n[Peer]\nPublicKey = "
                        + wireGuard.get(gateway).publicKey() + "\nEndpoint = "
                        + place.host() + ":" + place.port() + "\nAllowedIPs = " + allowed
                        + "\nPersistentKeepalive = 25\n");
    }

    /** A private key as WireGuard's files write it. */
    public static String text(TunnelKeyPair pair) {
        return Base64.getEncoder().encodeToString(pair.privateKey().reveal(RevealSecret.TO_WRITE_FILE));
    }

    static byte[] zip(Map<String, String> parts) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (ZipOutputStream zip = new ZipOutputStream(out)) {
            for (Map.Entry<String, String> part : parts.entrySet()) {
                zip.putNextEntry(new ZipEntry(part.getKey()));
                zip.write(part.getValue().getBytes(StandardCharsets.UTF_8));
            }
        } catch (IOException e) {
            throw new IllegalStateException(e); // in memory
        }
        return out.toByteArray();
    }
}
