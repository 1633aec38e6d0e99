package tender.core.repair;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.office.Attribute;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.OpenVpnFile;
import tender.core.profile.OpenVpnFile.Directive;
import tender.core.repair.Repaired.Repair;

/** Repairs OpenVPN client files; lines that no rule means stay as they came. */
public final class OpenVpnRepairs {
    private final Target target;
    private final List<Repair> repairs = new ArrayList<>();
    private OpenVpnFile file;

    private OpenVpnRepairs(OpenVpnFile file, Target target) {
        this.file = file;
        this.target = target;
    }

    public static Repaired of(String text, Target target) {
        OpenVpnRepairs work = new OpenVpnRepairs(OpenVpnFile.read(text).file(), target);
        work.successors();
        work.endpoint();
        work.serverCheck();
        work.agreed();
        work.reach();
        work.dns();
        return new Repaired(work.file.text(), work.repairs);
    }

    private static String line(Directive d) {
        return d.block().isPresent() ? "<" + d.name() + "> …" : (d.name() + " " + String.join(" ", d.words())).strip();
    }

    /** Takes out the directives that fit and puts lines where the first of them stood, or at the end. */
    private void replace(RepairRule rule, java.util.function.Predicate<Directive> fits, List<String> fresh) {
        List<Directive> old = file.directives().stream().filter(fits).toList();
        repairs.add(new Repair(
                rule,
                old.isEmpty() ? 0 : old.get(0).line(),
                String.join("\n", old.stream().map(OpenVpnRepairs::line).toList()),
                String.join("\n", fresh)));
        file = file.replacing(fits, fresh);
    }

    private void successors() {
        for (Directive d : List.copyOf(file.directives())) {
            Optional<String> successor = OpenVpnClient.successor(d);
            boolean compression = d.name().equals("comp-lzo") || d.name().equals("compress");
            RepairRule rule = compression ? RepairRule.COMPRESSION : RepairRule.SUCCESSOR;
            boolean agreed = !compression || !target.listener().is(Attribute.COMPRESSION, "yes");
            if (successor.isPresent() && target.takes(rule) && agreed) {
                String name = d.name();
                boolean there =
                        !successor.get().isEmpty() && file.has(successor.get().split(" ")[0]);
                replace(
                        rule,
                        x -> x.name().equals(name),
                        successor.get().isEmpty() || there ? List.of() : List.of(successor.get()));
            }
        }
    }

    private void endpoint() {
        List<Endpoint> now = OpenVpnClient.read(file.text()).calls().stream()
                .map(c -> c.endpoint().orElse(null))
                .toList();
        if (target.calls().isEmpty() || now.equals(target.calls()) || !target.takes(RepairRule.ENDPOINT)) {
            return;
        }
        replace(
                RepairRule.ENDPOINT,
                d -> d.name().equals("remote")
                        || d.name().equals("connection")
                        || d.name().equals("proto")
                        || d.name().equals("port")
                        || d.name().equals("rport"),
                target.calls().stream()
                        .map(e -> "remote " + e.host() + " " + e.port() + " "
                                + e.transport().word())
                        .toList());
    }

    private void serverCheck() {
        OpenVpnClient now = OpenVpnClient.read(file.text());
        if (now.checksRole() || now.checksName().isPresent() || !target.takes(RepairRule.SERVER_CHECK)) {
            return;
        }
        List<String> fresh = new ArrayList<>(List.of("remote-cert-tls server"));
        target.listener().words(Attribute.SERVER_NAMES).stream()
                .findFirst()
                .ifPresent(name -> fresh.add("verify-x509-name " + name + " name"));
        replace(RepairRule.SERVER_CHECK, d -> false, fresh);
    }

    /** What both ends have to say alike. */
    private void agreed() {
        OpenVpnClient now = OpenVpnClient.read(file.text());
        Optional<String> digest = target.listener().get(Attribute.DIGEST);
        if (digest.isPresent() && !digest.get().equalsIgnoreCase(now.digest()) && target.takes(RepairRule.DIGEST)) {
            replace(RepairRule.DIGEST, d -> d.name().equals("auth"), List.of("auth " + digest.get()));
        }
        List<String> all = target.listener().words(Attribute.CIPHERS);
        List<String> strong =
                all.stream().filter(c -> !OpenVpnClient.isWeakCipher(c)).toList();
        List<String> accepted = OpenVpnClient.taken(strong.isEmpty() ? all : strong);
        boolean none = !accepted.isEmpty()
                && !now.ciphers().isEmpty()
                && now.ciphers().stream().noneMatch(c -> accepted.stream().anyMatch(c::equalsIgnoreCase));
        if (none && target.takes(RepairRule.CIPHERS)) {
            replace(
                    RepairRule.CIPHERS,
                    d -> d.name().equals("cipher")
                            || d.name().equals("data-ciphers")
                            || d.name().equals("data-ciphers-fallback"),
                    List.of("data-ciphers " + String.join(":", accepted)));
        }
    }

    private void dns() {
        if (target.dns().isEmpty()
                || !target.takes(RepairRule.DNS)
                || OpenVpnClient.read(file.text()).dns().equals(target.dns())) {
            return;
        }
        replace(
                RepairRule.DNS,
                d -> d.name().equals("dhcp-option")
                        && d.word(0)
                                .filter(w -> w.equals("DNS") || w.equals("DNS6"))
                                .isPresent(),
                target.dns().stream()
                        .map(a -> "dhcp-option DNS" + (a.isV4() ? " " : "6 ") + a)
                        .toList());
    }

    private void reach() {
        if (target.reach().isEmpty() || !target.takes(RepairRule.REACH)) {
            return;
        }
        List<Cidr> granted = target.reach().get();
        OpenVpnClient now = OpenVpnClient.read(file.text());
        boolean same = now.full4() == granted.contains(Cidr.EVERYTHING_V4)
                && now.full6() == granted.contains(Cidr.EVERYTHING_V6)
                && now.reach()
                        .equals(granted.stream().filter(n -> !n.isEverything()).toList());
        if (!same) {
            replace(
                    RepairRule.REACH,
                    d -> d.name().equals("route")
                            || d.name().equals("route-ipv6")
                            || d.name().equals("route-nopull")
                            || d.name().equals("redirect-gateway"),
                    tender.core.profile.OpenVpnProfile.reachLines(granted));
        }
    }
}
