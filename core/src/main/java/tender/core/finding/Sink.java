package tender.core.finding;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.office.Change;
import tender.core.office.Listener;
import tender.core.office.Office;

/** Where checks put what they find. */
final class Sink {
    private final List<Finding> found = new ArrayList<>();
    private final Office office;

    Sink(Office office) {
        this.office = office;
    }

    List<Finding> found() {
        return found;
    }

    /** A finding about to be put; texts default to the rule's. */
    final class Draft {
        private final Rule rule;
        private final String kind;
        private final String id;
        private final String subject;
        private final String evidence;
        private String breaks;
        private String remedy;
        private Optional<Finding.Fix> fix = Optional.empty();

        private Draft(Rule rule, String kind, String id, String subject, String evidence) {
            this.rule = rule;
            this.kind = kind;
            this.id = id;
            this.subject = subject;
            this.evidence = evidence;
            this.breaks = rule.breaks();
            this.remedy = rule.remedy();
        }

        Draft breaks(String text) {
            breaks = text;
            return this;
        }

        Draft remedy(String text) {
            remedy = text;
            return this;
        }

        Draft fix(String gateway, Change change) {
            fix = Optional.of(new Finding.Fix(gateway, change));
            return this;
        }

        void put() {
            // a step that Tender takes; where people manage the gateway, what to do stands in the remedy
            Optional<Finding.Fix> taken = fix.filter(f ->
                    office.gateway(f.gateway()).filter(Office.Gateway::manual).isEmpty());
            found.add(new Finding(rule, kind, id, subject, evidence, breaks, remedy, taken));
        }
    }

    Draft gateway(Rule rule, Office.Gateway g, String evidence) {
        return new Draft(rule, "gateway", g.id(), g.name(), evidence);
    }

    /** Several things of one gateway can break one rule: {@code part} tells them apart. */
    Draft part(Rule rule, Office.Gateway g, String part, String evidence) {
        return new Draft(rule, "gateway", g.id() + "/" + part, g.name() + " " + part, evidence);
    }

    Draft listener(Rule rule, Office.Gateway g, Listener l, String evidence) {
        return new Draft(rule, "listener", g.id() + "/" + l.name(), g.name() + " " + l.name(), evidence);
    }

    Draft site(Rule rule, Office.Site s, String part, String evidence) {
        return new Draft(rule, "site", s.id() + "/" + part, s.name() + " " + part, evidence);
    }

    Draft profile(Rule rule, Office.IssuedProfile h, String evidence) {
        return new Draft(rule, "profile", h.profileId(), h.label(), evidence);
    }
}
