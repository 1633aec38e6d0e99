package tender.core.repair;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import tender.core.network.Cidr;
import tender.core.office.Attribute;
import tender.core.profile.SectionFile;
import tender.core.profile.SectionFile.Setting;
import tender.core.repair.Repaired.Repair;

/** Repairs IKEv2 connections in swanctl sections; lines that no rule means stay as they came. */
public final class IkeRepairs {
    private final Target target;
    private final List<Repair> repairs = new ArrayList<>();
    private SectionFile file;

    private IkeRepairs(SectionFile file, Target target) {
        this.file = file;
        this.target = target;
    }

    public static Repaired of(String section, Target target) {
        IkeRepairs work = new IkeRepairs(SectionFile.read(section), target);
        work.endpoint();
        work.serverCheck();
        work.reach();
        return new Repaired(work.file.text(), work.repairs);
    }

    private void set(RepairRule rule, Setting setting, String value) {
        if (!setting.value().equals(value) && target.takes(rule)) {
            repairs.add(new Repair(
                    rule, setting.line(), setting.key() + " = " + setting.value(), setting.key() + " = " + value));
            file = file.with(setting, value);
        }
    }

    private void endpoint() {
        String calls =
                target.calls().stream().map(e -> e.host().toString()).distinct().collect(Collectors.joining(","));
        if (!calls.isEmpty()) {
            file.first("remote_addrs", "connections", "*").ifPresent(s -> set(RepairRule.ENDPOINT, s, calls));
        }
    }

    /** A server that may be anybody is held to the name that the listener's certificate has. */
    private void serverCheck() {
        Optional<String> name =
                target.listener().words(Attribute.SERVER_NAMES).stream().findFirst();
        file.settings().stream()
                .filter(s -> s.key().equals("id")
                        && s.path().size() == 3
                        && s.path().get(2).startsWith("remote")
                        && s.value().equals("%any"))
                .findFirst()
                .ifPresent(s -> name.ifPresent(n -> set(RepairRule.SERVER_CHECK, s, n)));
    }

    private void reach() {
        if (target.reach().isPresent()) {
            String wanted = target.reach().get().stream().map(Cidr::toString).collect(Collectors.joining(","));
            for (Setting s : List.copyOf(file.settings())) {
                if (s.key().equals("remote_ts")) {
                    set(RepairRule.REACH, s, wanted);
                }
            }
        }
    }
}
