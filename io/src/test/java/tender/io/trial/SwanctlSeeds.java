package tender.io.trial;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.stream.Stream;

/** Swanctl files to begin from, and how one is changed into others. */
final class SwanctlSeeds {
    private static final Path CORPUS =
            Path.of("../core/src/test/resources/corpus").toAbsolutePath().normalize();
    private static final List<String> VALUES = List.of(
            "10.9.0.0/31",
            "10.9.0.0/8",
            "10.9.0.5/24",
            "10.9.0.0/0",
            "fd00::/64",
            "fd00::/120",
            "10.9.0.20-10.9.0.10",
            "10.9.0.10 - 10.9.0.20",
            "10.9.0.1, 10.9.0.2",
            "10.20.0.5, x",
            "http://a.example/ä",
            "0xzz",
            "0X6162",
            "0s***",
            "0sYWI",
            "0x",
            "",
            "\"\"",
            "yes",
            "no",
            "YES",
            "on",
            "1",
            "0",
            "-1",
            "2x",
            "0x10",
            "08",
            "+5",
            "65536",
            "4294967296",
            "30s",
            "1m",
            "2h",
            "1d",
            "30 s",
            "30x",
            "s",
            "5k",
            "5 M",
            "10.0.0.1",
            "10.0.0.1/24",
            "10.0.0.0/8",
            "10.0.0.0/33",
            "010.0.0.1",
            "::",
            "0.0.0.0, ::",
            "0.0.0.0,::,",
            "fd00::/64",
            "fd00::1%lo",
            "::ffff:10.0.0.1",
            "%any",
            "%any6",
            "dynamic",
            "%dynamic",
            "10.0.0.1-10.0.0.9",
            "10.0.0.1-fd00::1",
            "10.0.0.0/8[tcp/80]",
            "10.0.0.0/8[tcp/http]",
            "10.0.0.0/8[foo]",
            "10.0.0.0/8[17/53-60]",
            "10.0.0.0/8[tcp",
            "dynamic[icmp]",
            "10.0.0.0/8 10.1.0.0/16",
            "10.0.0.0/8, 10.1.0.0/16",
            "host.example",
            "a b",
            "\"a b\"",
            "\"a, b\"",
            "a\tb",
            "\"a\\tb\"",
            "\"a\\\"b\\\\c\"",
            "\"a",
            "a\\",
            "\"a\\",
            "\"x\ny\"",
            "\"x\\\ny\"",
            "a # c",
            "a#c",
            "\"a#c\"",
            "a{b",
            "a}b",
            "a = b",
            "=",
            "é",
            "\"a\"\"b\"",
            "pubkey",
            "psk",
            "PSK",
            "eap",
            "eap-mschapv2",
            "eap-foo",
            "rsa-2048-sha256",
            "ed25519",
            "any",
            "xauth",
            "ike:pubkey-sha256",
            "pubkeyx",
            "CN=a, O=b",
            "\"CN=a, O=b\"",
            "@a.example",
            "keyid:x",
            "*.skerrivane.example",
            "always",
            "never",
            "ifasked",
            "force",
            "allow",
            "prefer",
            "accept",
            "keep",
            "replace",
            "unique",
            "%unique",
            "%unique-dir",
            "%same",
            "5/0xff",
            "5/",
            "/5",
            "mtu",
            "tunnel",
            "transport",
            "beet",
            "trap",
            "hold",
            "start|trap",
            "route",
            "clear",
            "restart",
            "strict",
            "ifuri",
            "relaxed",
            "default",
            "default,aes256",
            "aes256-sha256",
            "aes256-sha256-modp2048",
            "aes256gcm16-ecp256",
            "aes256gcm16-prfsha256-ecp256",
            "aes256gcm16-sha256-ecp256",
            "aes256gcm16-aes256-sha256-modp2048",
            "aes128-sha1-modp1024 , 3des-md5-modp768",
            "aes256-prfsha256-modp2048",
            "null-sha256-modp2048",
            "chacha20poly1305-prfsha256-x25519",
            "aes256-sha256_96-modp2048",
            "AES256",
            "sha256",
            "aes256-sha256-esn",
            "aes256gmac",
            "camellia256-sha512-ecp521",
            "aes256--sha256-modpnone",
            "none",
            "101",
            "63",
            "system",
            "simple",
            "out",
            "auto",
            "packet");
    private static final List<String> KEYS = List.of(
            "version",
            "aggressive",
            "pull",
            "dscp",
            "encap",
            "mobike",
            "dpd_delay",
            "dpd_timeout",
            "fragmentation",
            "childless",
            "send_certreq",
            "send_cert",
            "keyingtries",
            "unique",
            "local_port",
            "remote_port",
            "reauth_time",
            "over_time",
            "rekey_time",
            "rand_time",
            "ppk_id",
            "ppk_required",
            "if_id_in",
            "local_addrs",
            "remote_addrs",
            "proposals",
            "vips",
            "pools",
            "updown",
            "hostaccess",
            "mode",
            "policies",
            "replay_window",
            "life_time",
            "rekey_bytes",
            "life_packets",
            "dpd_action",
            "start_action",
            "close_action",
            "ipcomp",
            "inactivity",
            "reqid",
            "mark_in",
            "set_mark_out",
            "tfc_padding",
            "priority",
            "interface",
            "hw_offload",
            "copy_dscp",
            "label_mode",
            "ah_proposals",
            "esp_proposals",
            "local_ts",
            "remote_ts",
            "auth",
            "id",
            "ca_id",
            "aaa_id",
            "eap_id",
            "revocation",
            "round",
            "groups",
            "cert_policy",
            "secret",
            "leftid",
            "remote",
            "k.l",
            "addrs",
            "dns",
            "nbns",
            "dhcp",
            "netmask",
            "server",
            "subnet",
            "split_include",
            "split_exclude",
            "25",
            "cacert",
            "file",
            "handle",
            "crl_uris",
            "ocsp_uris",
            "cert_uri_base",
            "id-x",
            "Version",
            "per_cpu_sas",
            "ocsp");
    private static final List<String> LINES = List.of(
            "}",
            "{",
            "x {",
            "x { }",
            "x : parts { }",
            "local-2 : parts.p { id = b }",
            "remotely { id = a }",
            "children { more { remote_ts = 10.9.0.0/16 } }",
            "include nothing-here.conf",
            "include",
            "include = 3",
            "include  = 3",
            "# a comment",
            "local { cert-1 { } }",
            "local { slot { } }",
            "x : { }",
            "x : nosuch { }",
            "x\n{ }",
            "remote { id = b } remote { revocation = strict }",
            "connections { other { version = 2 } }",
            "= 3",
            ", x",
            "\"x\" = 3",
            "version 2",
            "children { net { start_action = trap } }",
            "x : nosuch, parts.p { }",
            "local { cert-1 { file = /nowhere.pem } }",
            "eap-x { id = a }",
            "secrets { foo { secret = a } }");
    private static final List<String> ODDITIES = List.of(
            "\r", "\t", " ", "\ufeff", "#", "=", "{", "}", "\"", "\\", ":", ".", ",", "\n", "\u000b", "é", ";", "'");

    private SwanctlSeeds() {}

    /** Those of the corpus without the parts that they name, and one with much of what may stand in one. */
    static List<String> all() throws IOException {
        List<String> out = new ArrayList<>();
        try (Stream<Path> all = Files.walk(CORPUS.resolve("ike"))) {
            for (Path file : all.filter(Files::isRegularFile).sorted().toList()) {
                out.add(Files.readString(file).replaceAll("(?m)^\\s*(ca)?certs\\s*=.*$", ""));
            }
        }
        out.add("""
                parts { p { auth = psk } }
                base {
                  dpd_delay = 30s
                  local {
                    auth = pubkey
                    id = "CN=mara, O=Skerrivane Ferries"
                  }
                }
                connections {
                  office : base {
                    version = 2
                    remote_addrs = vpn.skerrivane.example
                    vips = 0.0.0.0, ::
                    proposals = aes256gcm16-prfsha384-ecp384, default
                    remote {
                      auth = pubkey
                      id = "orrin.skerrivane.example"
                    }
                    children {
                      net {
                        remote_ts = 10.20.0.0/16,10.30.0.0/16
                        esp_proposals = aes256gcm16
                        start_action = none
                      }
                    }
                  }
                }
                """);
        return out;
    }

    /** Files with all the sections that swanctl loads. */
    static List<String> whole() {
        return List.of("""
                secrets {
                  eap-mara {
                    id = mara
                    secret = "harbour light"
                  }
                  ike-office {
                    id-1 = orrin.skerrivane.example
                    id-2 = 192.0.2.8
                    secret = 0x6861726275
                  }
                }
                pools {
                  office {
                    addrs = 10.9.0.0/24
                    dns = 10.20.0.5, fd00::5
                    netmask = 255.255.255.0
                    subnet = 10.20.0.0/16
                    split_include = 10.30.0.0/16
                  }
                }
                authorities {
                  office {
                    cacert = %1$s
                    crl_uris = http://lists.skerrivane.example/a.crl, http://b.example/l
                    ocsp_uris = http://ocsp.skerrivane.example
                    cert_uri_base = http://certs.skerrivane.example/
                  }
                }
                """.formatted(CORPUS.resolve("pem/authority.crt")), """
                pools {
                  six {
                    addrs = fd00:9::/97
                  }
                  range {
                    addrs = 10.9.1.10-10.9.1.20
                    25 = 10.1.1.1
                  }
                }
                connections {
                  office {
                    remote_addrs = 192.0.2.8
                    pools = six
                    local {
                      auth = psk
                    }
                    remote {
                      auth = psk
                    }
                  }
                }
                secrets {
                  ike {
                    secret = 0saGFyYm91cg==
                  }
                  xauth-a {
                    secret = a
                  }
                }
                """);
    }

    static String changed(String text, Random random) {
        List<String> lines = new ArrayList<>(Arrays.asList(text.split("\n", -1)));
        int at = random.nextInt(lines.size());
        String line = lines.get(at);
        switch (random.nextInt(9)) {
            case 0 -> lines.remove(at);
            case 1 -> lines.add(random.nextInt(lines.size()), line);
            case 2, 3 -> lines.add(at, pick(KEYS, random) + " = " + pick(VALUES, random));
            case 4 -> lines.set(at, line.contains("=") ? line.replaceFirst("=.*", "= ") + pick(VALUES, random) : line);
            case 5 -> lines.add(at, pick(LINES, random));
            case 6 -> {
                int c = random.nextInt(line.length() + 1);
                lines.set(at, line.substring(0, c) + pick(ODDITIES, random) + line.substring(c));
            }
            case 7 -> {
                int c = line.isEmpty() ? 0 : random.nextInt(line.length());
                lines.set(at, line.isEmpty() ? "}" : line.substring(0, c) + line.substring(c + 1));
            }
            default -> lines.replaceAll(l -> l + "\r");
        }
        return String.join("\n", lines);
    }

    private static String pick(List<String> from, Random random) {
        return from.get(random.nextInt(from.size()));
    }
}
