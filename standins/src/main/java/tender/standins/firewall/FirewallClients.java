package tender.standins.firewall;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import tender.standins.device.ClientAuthority;

/**
 * The client files that the firewall makes: one zip with a folder for each listener. OpenVPN files have their PEM parts
 * inside and the server's name left to be filled in; phones get IKEv2 settings with the parts beside them.
 */
final class FirewallClients {
    private final ClientAuthority authority;
    private final Map<String, String> files = new LinkedHashMap<>();

    private final String staticKey;

    private FirewallClients(FirewallKeys keys) throws IOException {
        authority = keys.authority();
        staticKey = keys.staticKey();
    }

    /** The archive beside the firewall's folder, made at its first start. */
    static Path archive(Path folder) {
        return folder.resolveSibling(folder.getFileName() + "-client-files.zip");
    }

    static void layOut(Path folder, Instant now) throws IOException {
        if (Files.exists(archive(folder))) {
            return;
        }
        FirewallClients clients = new FirewallClients(new FirewallKeys(folder, now));
        clients.openVpn("ebba-phone", ClientAuthority.LIFE.minusDays(30));
        clients.openVpn("wen-tablet", Duration.ofDays(-40));
        clients.openVpn("supplier-2021", ClientAuthority.LIFE.minusDays(30));
        clients.files.put("phones/authority.pem", clients.authority.certificate());
        clients.ike("mara-phone", "10.20.0.1");
        Files.write(archive(folder), clients.zip());
    }

    /** The same of a company that looks after its firewall: files of people who are there, one of them ended. */
    static void sound(Path folder, Instant now) throws IOException {
        if (Files.exists(archive(folder))) {
            return;
        }
        FirewallClients clients = new FirewallClients(new FirewallKeys(folder, now));
        for (String name :
                List.of("corin-laptop", "odd-laptop", "liv-laptop", "rurik-laptop", "hale-laptop", "tobias-laptop")) {
            clients.openVpn(name, ClientAuthority.LIFE.minusDays(30));
        }
        clients.files.put("phones/authority.pem", clients.authority.certificate());
        for (String name : List.of("ottilie-phone", "freya-phone", "tavin-phone")) {
            clients.ike(name, "10.20.0.1");
        }
        Files.write(archive(folder), clients.zip());
    }

    private void openVpn(String name, Duration life) {
        ClientAuthority.Pair pair = authority.client(name, life);
        files.put(
                "staff/" + name + ".ovpn",
                "client\r\ndev tun\r\nproto udp\r\nremote SERVER_ADDRESS 1195\r\nnobind\r\nremote-cert-tls server\r\n"
                        + "data-ciphers AES-256-GCM\r\nauth SHA256\r\nauth-user-pass\r\n"
                        + block("ca", authority.certificate())
                        + block("cert", pair.certificate())
                        + block("key", pair.key())
                        + block("tls-crypt", staticKey));
    }

    private static String block(String name, String pem) {
        return "<" + name + ">\r\n" + pem.replace("\n", "\r\n") + "</" + name + ">\r\n";
    }

    private void ike(String name, String server) {
        ClientAuthority.Pair pair = authority.client(name, ClientAuthority.LIFE.minusDays(30));
        files.put("phones/" + name + ".pem", pair.certificate());
        files.put("phones/" + name + "-key.pem", pair.key());
        files.put("phones/" + name + ".conf", """
                connections {
                  office {
                    version = 2
                    remote_addrs = %s
                    proposals = aes256-sha256-modp2048
                    local {
                      auth = pubkey
                      certs = %s.pem
                      id = %s
                    }
                    remote {
                      auth = pubkey
                      id = %%any
                      cacerts = authority.pem
                    }
                    children {
                      office {
                        remote_ts = 10.20.0.0/24
                      }
                    }
                  }
                }
                """.formatted(server, name, name));
    }

    private byte[] zip() throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (ZipOutputStream zip = new ZipOutputStream(out)) {
            for (Map.Entry<String, String> file : files.entrySet()) {
                zip.putNextEntry(new ZipEntry(file.getKey()));
                zip.write(file.getValue().getBytes(StandardCharsets.UTF_8));
            }
        }
        return out.toByteArray();
    }
}
