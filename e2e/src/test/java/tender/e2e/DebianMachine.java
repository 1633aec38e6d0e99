package tender.e2e;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import tender.core.credential.TunnelKeyPair;
import tender.standins.exported.ExportedFiles;
import tender.standins.exported.OpenVpnDevice;

/**
 * A Debian machine with its own files in the packages' own places: sshd, WireGuard, OpenVPN, swanctl's configuration and nftables, in
 * a namespace of network and mounts. Where systemd does not run, the unit files' own command lines are carried out; what
 * timedatectl prints is written down.
 */
final class DebianMachine implements AutoCloseable {
    static final int SSH = 2222;
    static final String LISTS = """
            table inet filter {
              set offices { type ipv4_addr; flags interval; elements = { 192.0.2.0/24, 198.51.100.7 } }
              chain vpn { udp dport 1195 accept comment "OpenVPN"; }
              chain input {
                type filter hook input priority 0; policy drop;
                ct state established,related accept
                iif lo accept
                tcp dport { 2222, 8000-8010 } accept
                udp dport 51820 counter accept
                iifname "wg0" icmp type echo-request accept
                ip saddr @offices tcp dport 9000 accept
                jump vpn
              }
              chain forward {
                type filter hook forward priority 0; policy drop;
                iifname "wg0" ip daddr 10.20.9.0/24 accept
              }
            }
            table ip nat {
              chain prerouting {
                type nat hook prerouting priority -100;
                tcp dport 8443 dnat to 10.20.9.5:443
              }
            }
            """;

    private final Path folder;
    private final Namespace namespace;
    private final Map<String, Path> places;
    private Process sshd;

    DebianMachine(Path folder, int third, TunnelKeyPair server, Path clientKey) throws IOException {
        this.folder = Files.createDirectories(folder);
        Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwxr-xr-x"));
        this.places = Map.of(
                "/etc/wireguard", folder.resolve("wireguard"),
                "/etc/openvpn/server", folder.resolve("openvpn"),
                "/etc/swanctl", folder.resolve("swanctl"),
                "/usr/local/bin", folder.resolve("bin"));
        for (Map.Entry<String, Path> place : places.entrySet()) {
            Files.createDirectories(place.getValue());
            Files.createDirectories(Path.of(place.getKey()));
        }
        this.namespace = Namespace.make("tdr-d" + ProcessHandle.current().pid() % 1000, third);
        try {
            layOut(server, clientKey);
            start();
        } catch (IOException | RuntimeException | AssertionError e) {
            namespace.close();
            throw e;
        }
    }

    private void layOut(TunnelKeyPair server, Path clientKey) throws IOException {
        write(
                "wireguard/wg0.conf",
                "[Interface]\nPrivateKey = " + ExportedFiles.text(server)
                        + "\nAddress = 10.99.14.1/24\nListenPort = 51820\n# set by hand\n");
        ExportedFiles.OpenVpnEnd end = new OpenVpnDevice(Instant.now(), "depot.skerrivane.example").end();
        write(
                "openvpn/staff.conf",
                "dev tun9\nproto udp\nport 1195\ntopology subnet\nserver 10.98.14.0 255.255.255.0\ndh none\n"
                        + "data-ciphers AES-256-GCM\nauth SHA256\npush \"route 10.20.9.0 255.255.255.0\"\n"
                        + ExportedFiles.block("ca", end.authority()) + ExportedFiles.block("cert", end.certificate())
                        + ExportedFiles.block("key", end.key()) + ExportedFiles.block("tls-crypt", end.tlsCrypt()));
        write("swanctl/swanctl.conf", "# include configuration snippets\ninclude conf.d/*.conf\n");
        for (String part : new String[] {"x509", "x509ca", "x509crl", "private"}) {
            Files.createDirectories(folder.resolve("swanctl/" + part));
        }
        write("swanctl/x509/depot.pem", end.certificate());
        write("swanctl/conf.d/office.conf", """
                connections {
                  office {
                    version = 2
                    pools = staff
                    local { auth = pubkey
                      certs = depot.pem
                      id = depot.skerrivane.example }
                    remote { auth = eap-mschapv2
                      eap_id = %any }
                    children { lan { local_ts = 10.20.9.0/24 } }
                  }
                  to-head-office {
                    remote_addrs = 198.51.100.1
                    children { lan { local_ts = 10.20.9.0/24 } }
                  }
                }
                pools { staff { addrs = 10.97.14.0/24
                    dns = 10.20.9.53 } }
                """);
        script("bin/systemctl", new String(Shell.resource("systemctl.sh"), StandardCharsets.UTF_8));
        script(
                "bin/timedatectl",
                "#!/bin/sh\necho Timezone=Europe/Dublin\necho LocalRTC=no\necho NTPSynchronized=yes\n");
        write("rules.nft", LISTS);
        Files.copy(clientKey.resolveSibling(clientKey.getFileName() + ".pub"), folder.resolve("authorized"));
        Shell.keyPair(folder.resolve("host"));
        write("sshd_config", """
                Port %d
                HostKey @/host
                PidFile none
                AuthorizedKeysFile @/authorized
                StrictModes no
                UsePAM no
                PermitRootLogin prohibit-password
                Subsystem sftp internal-sftp
                """.formatted(SSH).replace("@", folder.toString()));
    }

    private void write(String name, String text) throws IOException {
        Path file = folder.resolve(name);
        Files.createDirectories(file.getParent());
        Files.writeString(file, text);
    }

    private void script(String name, String text) throws IOException {
        write(name, text.replace("@FOLDER@", folder.toString()));
        Files.setPosixFilePermissions(folder.resolve(name), PosixFilePermissions.fromString("rwxr-xr-x"));
    }

    private void start() throws IOException {
        StringBuilder mounts =
                new StringBuilder("set -e; mount -t tmpfs none /run; mkdir /run/openvpn-server /run/sshd; ");
        places.forEach((place, own) -> mounts.append("mount --bind ")
                .append(own)
                .append(' ')
                .append(place)
                .append("; "));
        mounts.append("ip route add default via ").append(namespace.outside()).append("; ");
        mounts.append(
                "ip link add lan0 type veth peer name lan0p; ip addr add 10.20.9.1/24 dev lan0; ip link set lan0 up; ");
        mounts.append("nft -f ").append(folder.resolve("rules.nft")).append("; ");
        mounts.append(
                "systemctl start wg-quick@wg0; systemctl start openvpn-server@staff; systemctl start strongswan; ");
        mounts.append("exec /usr/sbin/sshd -D -e -f ").append(folder.resolve("sshd_config"));
        sshd = new ProcessBuilder(
                        "ip", "netns", "exec", namespace.name(), "unshare", "-m", "bash", "-c", mounts.toString())
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("machine.log").toFile())
                .start();
        Shell.until(
                "the machine to start, or to fail",
                Duration.ofSeconds(30),
                () -> !sshd.isAlive()
                        || Shell.run("bash", "-c", "exec 3<>/dev/tcp/" + address() + "/" + SSH)
                                        .code()
                                == 0);
        if (!sshd.isAlive()) {
            throw new AssertionError(read("machine.log"));
        }
    }

    String address() {
        return namespace.inside();
    }

    /** SHA256 fingerprint of its host key. */
    String identity() {
        return Shell.need("ssh-keygen", "-l", "-f", folder.resolve("host.pub").toString())
                .split(" ")[1];
    }

    /** What a command prints on the machine. */
    String in(String command) {
        return Shell.need("nsenter", "-t", Long.toString(sshd.pid()), "-m", "-n", "bash", "-c", command);
    }

    String read(String name) throws IOException {
        return Files.readString(folder.resolve(name));
    }

    @Override
    public void close() throws IOException {
        in("systemctl stop openvpn-server@staff; systemctl stop strongswan; wg-quick down wg0 2>/dev/null || true");
        sshd.destroy();
        namespace.close();
    }

    /** Why this machine cannot run one; empty where it can. */
    static String lacking() {
        for (String program : new String[] {"nft", "openvpn", "wg-quick", "wireguard-go", "ssh-keygen", "nsenter"}) {
            if (!Shell.has(program)) {
                return "no " + program;
            }
        }
        for (String program : new String[] {"/usr/sbin/sshd", "/usr/sbin/charon-systemd", "/usr/sbin/swanctl"}) {
            if (!Files.isExecutable(Path.of(program))) {
                return "no " + program;
            }
        }
        return "";
    }
}
