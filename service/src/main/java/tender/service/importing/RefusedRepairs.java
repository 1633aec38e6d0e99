package tender.service.importing;

import java.util.EnumSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import tender.core.repair.RepairRule;
import tender.core.wire.MalformedException;

/** Repairs that are not to be made, for every file or for one. */
public record RefusedRepairs(Set<RepairRule> everywhere, Map<String, Set<RepairRule>> byPath) {
    /**
     * @param words rules, or {@code PATH=RULE}
     * @throws MalformedException where there is no such rule
     */
    public static RefusedRepairs of(List<String> words) {
        Set<RepairRule> everywhere = EnumSet.noneOf(RepairRule.class);
        Map<String, Set<RepairRule>> byPath = new HashMap<>();
        for (String word : words) {
            int equals = word.lastIndexOf('=');
            RepairRule rule = rule(word.substring(equals + 1));
            if (equals < 0) {
                everywhere.add(rule);
            } else {
                byPath.computeIfAbsent(word.substring(0, equals), p -> EnumSet.noneOf(RepairRule.class))
                        .add(rule);
            }
        }
        return new RefusedRepairs(everywhere, byPath);
    }

    Set<RepairRule> of(String path) {
        Set<RepairRule> out = EnumSet.copyOf(byPath.getOrDefault(path, EnumSet.noneOf(RepairRule.class)));
        out.addAll(everywhere);
        return out;
    }

    private static RepairRule rule(String code) {
        for (RepairRule rule : RepairRule.values()) {
            if (rule.code().equals(code)) {
                return rule;
            }
        }
        throw new MalformedException("rule", "refuse", "no such rule of repair");
    }
}
