package tender.core.trial;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import tender.core.profile.OpenVpnFile;
import tender.core.profile.OpenVpnFile.Directive;

/**
 * Lines of an OpenVPN file that a trial does not apply and that may decide trust, keys or reach. What a trial shows says
 * nothing of them, so that nothing is called proven beside one. Whatever is neither applied nor known to decide none of these
 * is such a line, also one that no client knows.
 */
final class NotLookedAt {
    /** What the trial does as the file says. */
    private static final Set<String> APPLIED = Set.of(
            "auth",
            "auth-user-pass",
            "ca",
            "cert",
            "cipher",
            "client",
            "comp-lzo",
            "compress",
            "connection",
            "data-ciphers",
            "data-ciphers-fallback",
            "dev",
            "dev-type",
            "dhcp-option",
            "dns",
            "http-proxy",
            "http-proxy-user-pass",
            "ifconfig",
            "ifconfig-ipv6",
            "key",
            "key-direction",
            "ncp-ciphers",
            "peer-fingerprint",
            "pkcs12",
            "port",
            "proto",
            "pull",
            "pull-filter",
            "redirect-gateway",
            "redirect-private",
            "remote",
            "remote-cert-tls",
            "route",
            "route-gateway",
            "route-ipv6",
            "route-nopull",
            "rport",
            "socks-proxy",
            "static-challenge",
            "tls-auth",
            "tls-client",
            "tls-crypt",
            "tls-crypt-v2",
            "tls-version-min",
            "topology",
            "verify-x509-name");

    /** What decides how the client runs, and neither whom it trusts nor what it reaches. */
    private static final Set<String> OF_NO_MATTER = Set.of(
            "allow-compression",
            "allow-pull-fqdn",
            "askpass",
            "auth-nocache",
            "auth-retry",
            "bind",
            "block-outside-dns",
            "cd",
            "chroot",
            "comp-noadapt",
            "connect-retry",
            "connect-retry-max",
            "connect-timeout",
            "daemon",
            "dev-node",
            "disable-dco",
            "down",
            "down-pre",
            "echo",
            "explicit-exit-notify",
            "extra-certs",
            "fast-io",
            "float",
            "group",
            "hand-window",
            "ignore-unknown-option",
            "inactive",
            "ip-win32",
            "iproute",
            "ipchange",
            "keepalive",
            "local",
            "log",
            "log-append",
            "lport",
            "machine-readable-output",
            "management",
            "management-client",
            "management-hold",
            "management-query-passwords",
            "mark",
            "mlock",
            "mssfix",
            "mtu-disc",
            "mtu-test",
            "multihome",
            "mute",
            "mute-replay-warnings",
            "nice",
            "nobind",
            "passtos",
            "persist-key",
            "persist-local-ip",
            "persist-remote-ip",
            "persist-tun",
            "ping",
            "ping-exit",
            "ping-restart",
            "ping-timer-rem",
            "preresolve",
            "push-peer-info",
            "rcvbuf",
            "register-dns",
            "remap-usr1",
            "remote-random",
            "reneg-bytes",
            "reneg-pkts",
            "reneg-sec",
            "replay-window",
            "resolv-retry",
            "route-delay",
            "route-method",
            "route-metric",
            "route-pre-down",
            "route-up",
            "script-security",
            "server-poll-timeout",
            "session-timeout",
            "setenv",
            "setenv-safe",
            "shaper",
            "show-net-up",
            "sndbuf",
            "socket-flags",
            "status",
            "status-version",
            "suppress-timestamps",
            "syslog",
            "tap-sleep",
            "tls-exit",
            "tls-timeout",
            "tmp-dir",
            "tran-window",
            "tun-mtu",
            "txqueuelen",
            "up",
            "up-delay",
            "up-restart",
            "user",
            "verb",
            "windows-driver",
            "writepid");

    private NotLookedAt() {}

    /** In words, in the order of the file. */
    static List<String> of(OpenVpnFile file) {
        Set<String> ignored = new HashSet<>();
        file.all("ignore-unknown-option").forEach(d -> ignored.addAll(d.words()));
        List<String> out = new ArrayList<>();
        for (Directive d : file.directives()) {
            String name = d.name().replaceFirst("^--", "");
            boolean known = APPLIED.contains(name) || OF_NO_MATTER.contains(name) || ignored.contains(name);
            if (!known) {
                out.add(name + " (line " + d.line() + ")");
            }
        }
        return out;
    }
}
