package tender.io.trial;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import tender.core.certificate.Authority;
import tender.core.certificate.PemText;

/** Debian's strongSwan in a network namespace of its own, its tunnels in user space, reached from here. */
final class IkeLab extends Lab {
    static final String PASSWORD = "harbour-lantern-7";
    static final String SHARED = "a-secret-for-all-of-us";
    private static final Duration PATIENCE = Duration.ofSeconds(30);
    private static final String PLUGINS =
            "random nonce openssl pem pkcs1 pkcs8 x509 revocation constraints pubkey gmp curve25519 aes sha1 sha2 md4"
                    + " hmac kdf gcm chapoly socket-default kernel-libipsec kernel-netlink vici updown eap-identity"
                    + " eap-mschapv2";

    private Process charon;

    IkeLab(Path folder) throws IOException {
        this(folder, "ts", 215, "");
    }

    /** @param more settings of the daemon */
    private IkeLab(Path folder, String name, int network, String more) throws IOException {
        super(folder, name, network);
        Files.createDirectories(folder);
        for (String part : List.of("x509", "x509ca", "x509crl", "private")) {
            Files.createDirectories(folder.resolve(part));
        }
        Files.writeString(
                folder.resolve("strongswan.conf"),
                "charon-systemd {\n  block_threshold = 20\n" + more + "  load = " + PLUGINS
                        + "\n  plugins {\n    vici { socket = "
                        + socket() + " }\n  }\n"
                        + "  filelog {\n    all {\n      path = " + folder.resolve("charon.log")
                        + "\n      default = 1\n      flush_line = yes\n    }\n  }\n}\n");
        ProcessBuilder builder = new ProcessBuilder("ip", "netns", "exec", space, "/usr/sbin/charon-systemd")
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("charon.out").toFile());
        builder.environment()
                .put("STRONGSWAN_CONF", folder.resolve("strongswan.conf").toString());
        charon = builder.start();
        Shell.until(
                "charon to answer",
                PATIENCE,
                () -> Shell.run("swanctl", "--stats", "--uri", socket()).code() == 0);
    }

    /** One that calls a server of the same authority by a link of their own, and gives up soon. */
    static IkeLab calling(IkeLab server, Path folder) throws IOException {
        IkeLab out = new IkeLab(folder, "tc", 219, "  retransmit_tries = 1\n  retransmit_timeout = 0.7\n");
        Shell.need(
                "bash",
                "-c",
                ("ip link add %1$s-l type veth peer name %2$s-l && ip link set %1$s-l netns %1$s && ip link set %2$s-l netns %2$s"
                                + " && ip -n %1$s addr add 10.218.1.1/24 dev %1$s-l && ip -n %1$s link set %1$s-l up"
                                + " && ip -n %2$s addr add 10.218.1.2/24 dev %2$s-l && ip -n %2$s link set %2$s-l up"
                                + " && ip -n %2$s route add %3$s/32 via 10.218.1.1")
                        .formatted(server.space, out.space, server.address));
        return out;
    }

    /** Whether the real client gets a tunnel with a section and its parts. */
    boolean connects(String section, String connection, String child, Map<String, String> parts) throws IOException {
        for (Map.Entry<String, String> part : parts.entrySet()) {
            put(part.getKey(), part.getValue());
        }
        put("swanctl.conf", section);
        if (!loaded()) {
            return false;
        }
        boolean up = Shell.run(
                                "swanctl",
                                "--initiate",
                                "--ike",
                                connection,
                                "--child",
                                child,
                                "--timeout",
                                "6",
                                "--uri",
                                socket())
                        .code()
                == 0;
        Shell.run("swanctl", "--terminate", "--ike", connection, "--force", "--timeout", "2", "--uri", socket());
        return up;
    }

    static boolean able() {
        return Files.exists(Path.of("/usr/sbin/charon-systemd"))
                && Files.exists(Path.of("/usr/lib/ipsec/plugins/libstrongswan-kernel-libipsec.so"))
                && Files.exists(Path.of("/usr/lib/ipsec/plugins/libstrongswan-eap-mschapv2.so"))
                && Shell.has("swanctl")
                && ableToMakeSpaces();
    }

    String socket() {
        return "unix://" + folder.resolve("vici");
    }

    /** Loads one connection in place of the others; the texts go into the sections of their names. */
    void serve(Pair shown, Authority believed, String connection, String local, String remote, String child)
            throws IOException {
        serve(shown, believed, connection, local, remote, child, "pools = callers");
    }

    void serve(
            Pair shown, Authority believed, String connection, String local, String remote, String child, String pools)
            throws IOException {
        put("x509/server.pem", shown.pem());
        put("private/server.pem", shown.key());
        put("x509ca/authority.pem", PemText.write("CERTIFICATE", believed.certificate()));
        put("swanctl.conf", """
                connections {
                  lab {
                    version = 2
                    local_addrs = %s
                    %s
                    send_cert = always
                    %s
                    local {
                      %s
                    }
                    remote {
                      %s
                    }
                    children {
                      net {
                        local_ts = 10.20.77.0/24
                        start_action = none
                        %s
                      }
                    }
                  }
                }
                pools {
                  callers {
                    addrs = 10.95.0.0/24
                    dns = 10.20.77.53
                  }
                }
                secrets {
                  eap-mara {
                    id = mara
                    secret = %s
                  }
                  ike-all {
                    secret = %s
                  }
                }
                """.formatted(address, pools, connection, local, remote, child, PASSWORD, SHARED));
        load();
    }

    /** Loads a connection of IKE version 1 with a shared secret, as L2TP/IPsec listeners have it. */
    void serveVersionOne(String proposals) throws IOException {
        put("swanctl.conf", """
                connections {
                  old {
                    version = 1
                    local_addrs = %s
                    proposals = %s
                    local {
                      auth = psk
                    }
                    remote {
                      auth = psk
                    }
                    children {
                      net {
                        mode = transport
                      }
                    }
                  }
                }
                secrets {
                  ike-all {
                    secret = %s
                  }
                }
                """.formatted(address, proposals, SHARED));
        load();
    }

    /** Calls out with a client's section and its parts; fails where the tunnel does not come up. */
    void call(String section, Map<String, String> parts) throws IOException {
        for (Map.Entry<String, String> part : parts.entrySet()) {
            put(part.getKey(), part.getValue());
        }
        put("swanctl.conf", section);
        load();
        String child =
                section.substring(section.indexOf("children {") + 10).strip().split("\\s")[0];
        Shell.need("swanctl", "--initiate", "--child", child, "--timeout", "20", "--uri", socket());
    }

    private void load() throws IOException {
        if (!loaded()) {
            throw new AssertionError(Files.readString(folder.resolve("load.out")));
        }
    }

    private boolean loaded() throws IOException {
        ProcessBuilder load = new ProcessBuilder("swanctl", "--load-all", "--clear", "--uri", socket())
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("load.out").toFile());
        load.environment()
                .putAll(Map.of(
                        "SWANCTL_DIR",
                        folder.toString(),
                        "STRONGSWAN_CONF",
                        folder.resolve("strongswan.conf").toString()));
        try {
            return load.start().waitFor() == 0;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException(e);
        }
    }

    /** The usual: certificates on both sides. */
    void serve() throws IOException {
        serve(server, authority, "", "auth = pubkey\ncerts = server.pem\nid = " + SERVER_NAME, "auth = pubkey", "");
    }

    private void put(String name, String text) throws IOException {
        Files.writeString(folder.resolve(name), text);
    }

    List<String> log() {
        try {
            return Files.readAllLines(folder.resolve("charon.log"), StandardCharsets.ISO_8859_1);
        } catch (IOException e) {
            return List.of();
        }
    }

    @Override
    public void close() {
        if (charon != null) {
            charon.destroy();
            try {
                charon.waitFor();
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        }
        remove();
    }
}
