package tender.core.repair;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;
import tender.core.network.Cidr;
import tender.core.profile.WireGuardFile;
import tender.core.repair.Repaired.Repair;

/** Repairs WireGuard client files that have one peer; lines that no rule means stay as they came. */
public final class WireGuardRepairs {
    private WireGuardRepairs() {}

    public static Repaired of(String text, Target target) {
        List<Repair> repairs = new ArrayList<>();
        WireGuardFile.Reading reading = WireGuardFile.read(text);
        if (reading.file().peers().size() != 1) {
            return new Repaired(text, repairs); // which peer is whose is not for a rule to guess
        }
        WireGuardFile.Peer peer = reading.file().peers().get(0);
        String out = text;
        boolean calls = target.calls().stream().findFirst().equals(peer.endpoint());
        if (!target.calls().isEmpty() && !calls && target.takes(RepairRule.ENDPOINT)) {
            out = set(out, peer, "Endpoint", target.calls().get(0).toString(), RepairRule.ENDPOINT, repairs);
        }
        if (target.reach().isPresent() && target.takes(RepairRule.REACH)) {
            List<Cidr> now = peer.allowed().stream().map(a -> a.network()).toList();
            if (!now.equals(target.reach().get())) {
                String wanted =
                        target.reach().get().stream().map(Cidr::toString).collect(Collectors.joining(", "));
                out = set(out, peer, "AllowedIPs", wanted, RepairRule.REACH, repairs);
            }
        }
        if (!target.dns().isEmpty() && target.takes(RepairRule.DNS)) {
            String wanted = target.dns().stream().map(Object::toString).collect(Collectors.joining(", "));
            String fresh = WireGuardFile.read(out).file().withOwn("DNS", wanted).text();
            if (!fresh.equals(out)) {
                repairs.add(new Repair(RepairRule.DNS, 0, "", "DNS = " + wanted));
                out = fresh;
            }
        }
        return new Repaired(out, repairs);
    }

    private static String set(
            String text, WireGuardFile.Peer peer, String key, String value, RepairRule rule, List<Repair> repairs) {
        List<String> lines = new ArrayList<>(List.of(text.split("\n", -1)));
        String end = lines.get(0).endsWith("\r") ? "\r" : "";
        int first = -1;
        List<String> before = new ArrayList<>();
        for (int i = Math.min(peer.end() - 1, lines.size()) - 1; i >= peer.line(); i--) {
            String line = lines.get(i).strip();
            int equals = line.indexOf('=');
            if (equals > 0
                    && line.substring(0, equals)
                            .strip()
                            .toLowerCase(Locale.ROOT)
                            .equals(key.toLowerCase(Locale.ROOT))) {
                before.add(0, line);
                lines.remove(i);
                first = i;
            }
        }
        lines.add(first < 0 ? peer.line() : first, key + " = " + value + end);
        repairs.add(new Repair(rule, first < 0 ? 0 : first + 1, String.join("\n", before), key + " = " + value));
        return String.join("\n", lines);
    }
}
