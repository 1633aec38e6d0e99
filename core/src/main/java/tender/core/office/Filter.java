package tender.core.office;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.wire.MalformedException;

/** A gateway's filter rules in order, and what happens to packets that none takes. */
public record Filter(List<FilterRule> rules, boolean otherwiseAllow) {
    private static final int MAX_RULES = 10_000;
    public static final Filter OPEN = new Filter(List.of(), true);

    /** What decides a packet: the rule's number, counted from 1, or nothing for the default. */
    public record Decision(boolean allow, Optional<Integer> rule) {
        public String by() {
            return rule.map(n -> "filter rule " + n).orElse("the filter's default");
        }
    }

    public Filter {
        rules = List.copyOf(rules);
        if (rules.size() > MAX_RULES) {
            throw new MalformedException("too-many", "filter", "more than " + MAX_RULES + " rules");
        }
    }

    /** What the first rule that fits decides, or the filter's default. */
    public Decision decide(FilterRule.Packet packet) {
        for (int i = 0; i < rules.size(); i++) {
            if (rules.get(i).takes(packet)) {
                return new Decision(rules.get(i).allow(), Optional.of(i + 1));
            }
        }
        return new Decision(otherwiseAllow, Optional.empty());
    }

    /** The rule put at a number; those from there on move down. */
    public Filter withRule(int number, FilterRule rule) {
        List<FilterRule> out = new ArrayList<>(rules);
        out.add(at(number, rules.size() + 1) - 1, rule);
        return new Filter(out, otherwiseAllow);
    }

    /**
     * @param number from 1
     * @throws MalformedException where there is no such rule
     */
    public Filter withoutRule(int number) {
        List<FilterRule> out = new ArrayList<>(rules);
        out.remove(at(number, rules.size()) - 1);
        return new Filter(out, otherwiseAllow);
    }

    public Filter withMoved(int from, int to) {
        List<FilterRule> out = new ArrayList<>(rules);
        FilterRule rule = out.remove(at(from, rules.size()) - 1);
        out.add(at(to, rules.size()) - 1, rule);
        return new Filter(out, otherwiseAllow);
    }

    private static int at(int number, int most) {
        if (number < 1 || number > most) {
            throw new MalformedException("rule", "rule", "there is no rule of this number; there are " + most);
        }
        return number;
    }
}
