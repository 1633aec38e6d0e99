package tender.standins.firewall;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;

/** A new firewall's configuration document. */
public final class FirewallFolder {
    private FirewallFolder() {}

    /**
     * Writes the document where there is none yet, with the faults that collect in a head office over the years; ends of
     * certificates are told from {@code now}.
     */
    public static void layOut(Path folder, String outsideAddress, Instant now) throws IOException {
        Files.createDirectories(folder);
        FirewallClients.layOut(folder, now);
        write(folder, TEXT, outsideAddress, now);
    }

    /** The same of a head office that looks after it: a supplier's port and a certificate that ends soon are left to find. */
    public static void sound(Path folder, String outsideAddress, Instant now) throws IOException {
        Files.createDirectories(folder);
        FirewallClients.sound(folder, now);
        String text = TEXT;
        for (String[] change : SOUND) {
            if (!text.contains(change[0])) {
                throw new IllegalStateException("the document has no " + change[0]);
            }
            text = text.replace(change[0], change[1]);
        }
        write(folder, text, outsideAddress, now);
    }

    /** What a company that looks after its firewall has in place of each fault. */
    private static final String[][] SOUND = {
        {
            "\"printer\": \"10.20.0.150\", \"scanner\": \"10.20.0.7\", \"plotter\": \"10.20.0.7\", \"clock\": \"10.20.9.9\"",
            "\"printer\": \"10.20.0.9\", \"scanner\": \"10.20.0.7\", \"plotter\": \"10.20.0.8\""
        },
        {
            "{\"first\": \"10.20.6.10\", \"last\": \"10.20.6.20\"}",
            "{\"first\": \"10.20.1.100\", \"last\": \"10.20.1.120\"}"
        },
        {"192.168.1.0/24", "10.20.7.0/24"},
        {
            "\"transport\": \"tcp\", \"port\": \"443\", \"to\": \"10.20.1.8\", \"toPort\": \"443\"",
            "\"transport\": \"tcp\", \"port\": \"8444\", \"to\": \"10.20.1.8\", \"toPort\": \"443\""
        },
        {
            "{\"allow\": false, \"toDevice\": true, \"via\": \"outside\", \"transport\": \"udp\", \"ports\": \"4000-5000\", \"source\": null, \"destination\": null, \"label\": \"old block\"}",
            "{\"allow\": true, \"toDevice\": false, \"via\": \"outside\", \"transport\": \"tcp\", \"ports\": \"443\", \"source\": null, \"destination\": \"10.20.1.8/32\", \"label\": \"web mail\"}"
        },
        {
            "\"transport\": \"tcp\", \"ports\": \"1723\", \"source\": null, \"destination\": null, \"label\": \"old laptops\"",
            "\"transport\": \"udp\", \"ports\": \"1199\", \"source\": null, \"destination\": null, \"label\": \"visitors\""
        },
        {
            ",\n    {\"allow\": true, \"toDevice\": true, \"via\": \"outside\", \"transport\": \"tcp\", \"ports\": \"8443\", \"source\": \"198.51.100.0/24\", \"destination\": null, \"label\": \"supplier again\"}",
            ""
        },
        {
            "\"ports\": \"any\", \"source\": null, \"destination\": \"10.20.0.0/24\", \"label\": \"staff\"",
            "\"ports\": \"any\", \"source\": null, \"destination\": \"10.20.0.0/23\", \"label\": \"staff\""
        },
        {"\"tunnel-network\": \"10.20.0.128/25\"", "\"tunnel-network\": \"10.99.0.0/25\""},
        {"\"key-bits\": \"1024\"", "\"key-bits\": \"3072\""},
        {"@WEEK@", "@LATER@"},
        {
            "\"bind\": \"lan\", \"tunnel-network\": \"192.168.0.0/24\"",
            "\"bind\": \"line-a\", \"tunnel-network\": \"10.99.1.0/24\""
        },
        {"\"reach\": \"0.0.0.0/0\"", "\"reach\": \"10.20.0.0/24\""},
        {"@PAST@", "@LATER@"},
        {"203.0.113.128/26", "10.99.0.128/26"},
        {"old.skerrivane.example", "orrin.skerrivane.example"},
        {
            "{\"name\": \"old-laptops\", \"values\": {\n      \"protocol\": \"pptp\", \"tunnel-network\": \"10.99.9.0/29\", \"peers\": \"5\", \"accounts\": \"local\"}},\n    ",
            ""
        },
    };

    private static void write(Path folder, String text, String outsideAddress, Instant now) throws IOException {
        Path file = folder.resolve("configuration.json");
        if (Files.exists(file)) {
            return;
        }
        Instant day = now.truncatedTo(ChronoUnit.DAYS);
        Files.writeString(
                file,
                text.replace("@OUTSIDE@", outsideAddress)
                        .replace("@SOON@", day.plus(Duration.ofDays(12)).toString())
                        .replace("@WEEK@", day.plus(Duration.ofDays(4)).toString())
                        .replace("@PAST@", day.minus(Duration.ofDays(3)).toString())
                        .replace("@LATER@", day.plus(Duration.ofDays(400)).toString()));
    }

    private static final String TEXT = """
            {
              "make": "Brannoch", "model": "Gatehouse 40", "release": "11.4.2", "zone": "Europe/Oslo",
              "insideHost": "10.20.0.20",
              "interfaces": [
                {"name": "line-a", "side": "outside", "addresses": ["@OUTSIDE@/24"]},
                {"name": "line-b", "side": "outside", "addresses": ["203.0.113.10/29"]},
                {"name": "lan", "side": "inside", "addresses": ["10.20.0.1/24"]},
                {"name": "servers", "side": "inside", "addresses": ["10.20.1.1/24"]}
              ],
              "networks": [
                {"name": "office", "network": "10.20.0.0/24", "pool": {"first": "10.20.0.100", "last": "10.20.0.199"},
                 "reserved": {"printer": "10.20.0.150", "scanner": "10.20.0.7", "plotter": "10.20.0.7", "clock": "10.20.9.9"}},
                {"name": "servers", "network": "10.20.1.0/24", "pool": {"first": "10.20.6.10", "last": "10.20.6.20"}, "reserved": {}},
                {"name": "guests", "network": "192.168.1.0/24", "pool": null, "reserved": {}}
              ],
              "uplinks": [
                {"label": "line-a", "kind": "fixed", "address": "@OUTSIDE@", "name": "orrin.skerrivane.example", "behind": null,
                 "downMegabits": 500, "upMegabits": 100},
                {"label": "line-b", "kind": "fixed", "address": "203.0.113.10", "name": null, "behind": null,
                 "downMegabits": 50, "upMegabits": 10}
              ],
              "forwards": [
                {"transport": "tcp", "port": "443", "to": "10.20.1.8", "toPort": "443", "label": "web mail"}
              ],
              "filter": {"otherwiseAllow": false, "rules": [
                {"allow": true, "toDevice": true, "via": "inside", "transport": null, "ports": "any", "source": null, "destination": null, "label": "management"},
                {"allow": true, "toDevice": true, "via": "outside", "transport": "udp", "ports": "1195", "source": null, "destination": null, "label": "staff"},
                {"allow": false, "toDevice": true, "via": "outside", "transport": "udp", "ports": "4000-5000", "source": null, "destination": null, "label": "old block"},
                {"allow": true, "toDevice": true, "via": "outside", "transport": "udp", "ports": "500", "source": null, "destination": null, "label": "phones"},
                {"allow": true, "toDevice": true, "via": "outside", "transport": "udp", "ports": "4500", "source": null, "destination": null, "label": "phones"},
                {"allow": true, "toDevice": true, "via": "outside", "transport": "tcp", "ports": "443", "source": null, "destination": null, "label": "strict places"},
                {"allow": true, "toDevice": true, "via": "outside", "transport": "tcp", "ports": "1723", "source": null, "destination": null, "label": "old laptops"},
                {"allow": true, "toDevice": true, "via": "outside", "transport": "tcp", "ports": "8443", "source": null, "destination": null, "label": "supplier, 2021"},
                {"allow": true, "toDevice": true, "via": "outside", "transport": "tcp", "ports": "8443", "source": "198.51.100.0/24", "destination": null, "label": "supplier again"},
                {"allow": true, "toDevice": false, "via": "tunnel", "transport": null, "ports": "any", "source": null, "destination": "10.20.0.0/24", "label": "staff"},
                {"allow": true, "toDevice": false, "via": "inside", "transport": null, "ports": "any", "source": null, "destination": null, "label": ""}
              ]},
              "listeners": [
                {"name": "staff", "values": {
                  "protocol": "openvpn", "transport": "udp", "port": "1195", "bind": "line-a", "tunnel-network": "10.20.0.128/25",
                  "reach": "10.20.0.0/24, 10.20.1.0/24", "dns": "10.20.0.53", "ciphers": "AES-256-GCM", "digest": "SHA256",
                  "tls-minimum": "1.2", "control-channel-key": "crypt", "compression": "no", "client-certificate": "yes", "key-bits": "1024",
                  "server-names": "orrin.skerrivane.example", "certificate-expires": "@SOON@", "revocation-list-expires": "@WEEK@",
                  "accounts": "directory", "second-factor": "no", "limit-total": "100", "limit-per-account": "0"}},
                {"name": "strict", "values": {
                  "protocol": "openvpn", "transport": "tcp", "port": "443", "bind": "lan", "tunnel-network": "192.168.0.0/24",
                  "reach": "0.0.0.0/0", "dns": "10.20.0.53", "ciphers": "AES-256-GCM", "digest": "SHA256",
                  "tls-minimum": "1.2", "control-channel-key": "none", "compression": "no", "client-certificate": "yes", "key-bits": "3072",
                  "certificate-expires": "@LATER@", "revocation-list-expires": "@PAST@",
                  "accounts": "none", "limit-total": "100", "limit-per-account": "0"}},
                {"name": "phones", "values": {
                  "protocol": "ikev2", "tunnel-network": "203.0.113.128/26", "reach": "10.20.0.0/24", "dns": "10.20.0.53",
                  "server-names": "old.skerrivane.example", "certificate-expires": "@PAST@", "key-bits": "3072",
                  "client-certificate": "yes", "accounts": "none", "shared-secret": "no"}},
                {"name": "old-laptops", "values": {
                  "protocol": "pptp", "tunnel-network": "10.99.9.0/29", "peers": "5", "accounts": "local"}},
                {"name": "visitors", "values": {
                  "protocol": "openvpn", "transport": "udp", "port": "1199", "bind": "any", "tunnel-network": "10.99.9.0/28",
                  "ciphers": "AES-256-GCM", "digest": "SHA256", "tls-minimum": "1.2", "control-channel-key": "crypt", "compression": "no",
                  "client-certificate": "yes", "key-bits": "3072", "accounts": "none"}}
              ],
              "accounts": [
                {"name": "keeper", "vpn": false, "administers": true, "secondFactor": true},
                {"name": "supplier", "vpn": true, "administers": true, "secondFactor": false}
              ]
            }
            """;
}
