package tender.core.finding;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.DeviceChange;
import tender.core.office.Listener;
import tender.core.office.ListenerChange;
import tender.core.office.Office;
import tender.core.office.Release;
import tender.core.walk.Fit;
import tender.core.walk.KnownNetworks;

/** Rules over state and time: what is active, clocks, ends, limits, and files that no longer fit. */
final class StateChecks {
    private static final Duration CLOCK_TOLERANCE = Duration.ofSeconds(60);
    private static final Duration CERTIFICATE_NOTICE = Duration.ofDays(30);
    private static final Duration REVOCATION_NOTICE = Duration.ofDays(7);
    private static final Duration CREDENTIAL_NOTICE = Duration.ofDays(14);
    private static final Duration READ_NOTICE = Duration.ofDays(7);

    private StateChecks() {}

    static void gateway(Office office, Office.Gateway g, Sink sink) {
        if (!g.identityAccepted()) {
            sink.gateway(Rule.IDENTITY_NOT_ACCEPTED, g, "not accepted yet")
                    .remedy("Compare the fingerprint at the device, then tender gateway accept " + g.name()
                            + " FINGERPRINT")
                    .put();
            return;
        }
        g.readProblem()
                .ifPresent(p -> sink.gateway(Rule.READ_FAILED, g, p)
                        .remedy("tender gateway read " + g.name())
                        .put());
        g.readAt()
                .filter(at -> !g.manual() && at.isBefore(office.now().minus(READ_NOTICE)))
                .ifPresent(at -> sink.gateway(Rule.READ_LONG_AGO, g, "last read " + at)
                        .remedy("tender gateway read " + g.name())
                        .put());
        if (g.newestBackup().isEmpty() && !g.manual()) {
            sink.gateway(Rule.NEVER_BACKED_UP, g, "no backup")
                    .remedy("tender backup take " + g.name())
                    .put();
        }
        if (g.drift() > 0) {
            sink.gateway(Rule.CHANGED_AT_DEVICE, g, g.drift() + (g.drift() == 1 ? " difference" : " differences"))
                    .remedy("tender gateway drift " + g.name())
                    .put();
        }
        g.disagreements()
                .forEach(d -> g.device()
                        .listener(d.listener())
                        .ifPresent(l -> sink.listener(Rule.SETTING_DISAGREES, g, l, d.words())
                                .remedy("tender gateway listener " + g.name() + " " + d.listener() + " --set "
                                        + d.setting().word() + "="
                                        + d.observed().replace(", ", ",") + " if it is as the trial saw it")
                                .put()));
        if (g.temporary() > 0) {
            sink.gateway(
                            Rule.TEMPORARY_CHANGE,
                            g,
                            g.temporary() + (g.temporary() == 1 ? " temporary change" : " temporary changes"))
                    .put();
        }
        g.oldestRelease()
                .filter(oldest -> !g.device().release().isEmpty()
                        && Release.compare(g.device().release(), oldest) < 0)
                .ifPresent(oldest -> sink.gateway(
                                Rule.RELEASE_TOO_OLD,
                                g,
                                "release " + g.device().release() + "; the device description needs " + oldest
                                        + " or later")
                        .put());
        g.device()
                .clockOffset()
                .filter(o -> o.abs().compareTo(CLOCK_TOLERANCE) > 0)
                .ifPresent(
                        o -> sink.gateway(Rule.CLOCK_OFF, g, words(o.abs()) + (o.isNegative() ? " behind" : " ahead"))
                                .fix(g.name(), new DeviceChange.SetClock())
                                .put());
        Optional<String> zone = office.site(g.site()).map(Office.Site::zone);
        if (zone.isPresent()
                && g.device().zone().filter(z -> !z.equals(zone.get())).isPresent()) {
            sink.gateway(
                            Rule.ZONE_DIFFERS,
                            g,
                            "the device is set to " + g.device().zone().get() + ", the site to " + zone.get())
                    .fix(g.name(), new DeviceChange.SetZone(zone.get()))
                    .put();
        }
    }

    private static String words(Duration d) {
        return d.toMinutes() < 120 ? d.toMinutes() + " min" : d.toHours() + " h";
    }

    static void listener(Office office, Office.Gateway g, Listener l, List<Office.IssuedProfile> issued, Sink sink) {
        if (l.is(Attribute.ACTIVE, "no")) {
            sink.listener(Rule.NOT_ACTIVE, g, l, "the running configuration differs from the files")
                    .fix(g.name(), new DeviceChange.Reload())
                    .put();
        }
        ends(
                office,
                g,
                l,
                Attribute.CERTIFICATE_EXPIRES,
                CERTIFICATE_NOTICE,
                Rule.CERTIFICATE_EXPIRED,
                Rule.CERTIFICATE_EXPIRES_SOON,
                sink);
        ends(
                office,
                g,
                l,
                Attribute.REVOCATION_LIST_EXPIRES,
                REVOCATION_NOTICE,
                Rule.REVOCATION_LIST_EXPIRED,
                Rule.REVOCATION_LIST_EXPIRES_SOON,
                sink);
        limits(g, l, issued, sink);
        reach(g, l, sink);
    }

    private static void ends(
            Office office,
            Office.Gateway g,
            Listener l,
            Attribute attribute,
            Duration notice,
            Rule ended,
            Rule soon,
            Sink sink) {
        Optional<Instant> end = l.instant(attribute);
        if (end.isEmpty() || end.get().isAfter(office.now().plus(notice))) {
            return;
        }
        boolean over = !end.get().isAfter(office.now());
        Change renewal = attribute == Attribute.CERTIFICATE_EXPIRES
                ? Renewals.certificate(l, office.now())
                : Renewals.revocations(l, office.now());
        sink.listener(over ? ended : soon, g, l, attribute.word() + " " + end.get())
                .fix(g.name(), renewal)
                .put();
    }

    private static void limits(Office.Gateway g, Listener l, List<Office.IssuedProfile> issued, Sink sink) {
        l.limit(Attribute.LIMIT_TOTAL)
                .filter(limit -> issued.size() > limit)
                .ifPresent(limit -> sink.listener(
                                Rule.LIMIT_TOO_SMALL,
                                g,
                                l,
                                issued.size() + " devices have a profile, the limit is " + limit)
                        .remedy("Raise the limit to " + issued.size() + " or withdraw unused profiles")
                        .fix(
                                g.name(),
                                new ListenerChange.SetListener(
                                        l.name(), Map.of(Attribute.LIMIT_TOTAL, Integer.toString(issued.size()))))
                        .put());
        Optional<Integer> perAccount = l.limit(Attribute.LIMIT_PER_ACCOUNT);
        if (perAccount.isEmpty()) {
            return;
        }
        Map<String, Integer> devices = new HashMap<>();
        issued.forEach(h -> devices.merge(h.person(), 1, Integer::sum));
        List<String> over = devices.entrySet().stream()
                .filter(e -> e.getValue() > perAccount.get())
                .map(e -> e.getKey() + " has " + e.getValue())
                .sorted()
                .toList();
        if (!over.isEmpty()) {
            int most = devices.values().stream().max(Integer::compare).orElseThrow();
            sink.listener(
                            Rule.LIMIT_PER_ACCOUNT_TOO_SMALL,
                            g,
                            l,
                            String.join(", ", over) + "; the limit per account is " + perAccount.get())
                    .fix(
                            g.name(),
                            new ListenerChange.SetListener(
                                    l.name(), Map.of(Attribute.LIMIT_PER_ACCOUNT, Integer.toString(most))))
                    .put();
        }
    }

    private static void reach(Office.Gateway g, Listener l, Sink sink) {
        List<Cidr> reach = new ArrayList<>(l.reach());
        if (reach.isEmpty()) {
            return;
        }
        reach.addAll(l.tunnels());
        for (IpAddress dns : l.dns()) {
            boolean privateOne = tender.core.network.AddressKinds.isPrivate(dns);
            if (privateOne && reach.stream().noneMatch(n -> n.contains(dns))) {
                sink.listener(
                                Rule.DNS_OUT_OF_REACH,
                                g,
                                l,
                                "dns " + dns + ", reach "
                                        + l.get(Attribute.REACH).orElse(""))
                        .fix(
                                g.name(),
                                new ListenerChange.SetListener(
                                        l.name(),
                                        Map.of(
                                                Attribute.REACH,
                                                l.get(Attribute.REACH).orElse("") + ", " + Cidr.host(dns))))
                        .put();
            }
        }
        boolean four = reach.contains(Cidr.EVERYTHING_V4);
        if (four && !reach.contains(Cidr.EVERYTHING_V6)) {
            sink.listener(
                            Rule.REACH_LEAKS_V6,
                            g,
                            l,
                            "reach " + l.get(Attribute.REACH).orElse(""))
                    .fix(
                            g.name(),
                            new ListenerChange.SetListener(
                                    l.name(),
                                    Map.of(
                                            Attribute.REACH,
                                            l.get(Attribute.REACH).orElse("") + ", ::/0")))
                    .put();
        }
    }

    static void issued(
            Office office,
            KnownNetworks known,
            Office.Gateway g,
            Listener l,
            Office.IssuedProfile h,
            List<Endpoint> now,
            Sink sink) {
        h.credentialEnds()
                .filter(end -> !end.isAfter(office.now().plus(CREDENTIAL_NOTICE)))
                .ifPresent(end -> sink.profile(
                                end.isAfter(office.now()) ? Rule.CREDENTIAL_EXPIRES_SOON : Rule.CREDENTIAL_EXPIRED,
                                h,
                                "ends " + end)
                        .breaks(h.person()
                                + (end.isAfter(office.now()) ? " cannot connect after that" : " cannot connect"))
                        .put());
        List<String> differences = Stream.concat(
                        Fit.differences(l, now, h).stream(), Fit.gone(known, g.site(), h).stream())
                .map(Fit.Difference::words)
                .toList();
        if (!differences.isEmpty()) {
            sink.profile(Rule.FILE_OUT_OF_DATE, h, String.join("; ", differences))
                    .breaks(h.person() + " holds a file that " + g.name() + " no longer fits")
                    .remedy("tender profile renew " + h.label() + ", then hand it out again")
                    .put();
        }
    }
}
