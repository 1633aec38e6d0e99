package tender.client;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.ChangeApi;
import tender.api.OfficeApi;
import tender.api.ProblemCode;
import tender.api.WatchApi;

/** Gateways. */
final class GatewayCommands {
    private GatewayCommands() {}

    static OfficeApi.Gateway find(Calls calls, String name) {
        return calls.get("/gateways/named/" + name, OfficeApi.Gateway.class);
    }

    static String state(OfficeApi.Gateway g) {
        return !g.identityAccepted()
                ? "identity to accept"
                : g.readProblem().map(p -> "! " + p).orElse(g.readAt().isPresent() ? "well" : "not read yet");
    }

    private static List<String> row(OfficeApi.Gateway g) {
        String listeners = String.join(
                ", ",
                g.listeners().stream()
                        .filter(l -> !l.gone())
                        .map(l -> l.protocol() + " " + l.transport() + " " + l.port())
                        .toList());
        return List.of(
                g.name(),
                g.site(),
                g.kind(),
                g.listeners().stream()
                        .flatMap(l -> l.endpoint().stream())
                        .map(e -> e.substring(0, e.lastIndexOf(':')))
                        .distinct()
                        .collect(Collectors.joining(", ")),
                listeners,
                g.newestBackup()
                        .map(b -> "no. " + b.number() + ", " + Terminal.ago(b.takenAt()))
                        .orElse("none"),
                state(g));
    }

    static void show(Terminal terminal, OfficeApi.Gateway g) {
        if (terminal.json) {
            terminal.json(g);
            return;
        }
        terminal.print(g.name() + ", " + g.kind() + " at " + g.site()
                + (g.make().isEmpty() ? "" : ": " + g.make() + " " + g.model() + ", release " + g.release()));
        terminal.print("  state      " + state(g));
        terminal.print("  managed    " + g.user() + "@" + g.address() + ":" + g.port() + " over " + g.connector());
        terminal.print("  identity   " + g.identity() + (g.identityAccepted() ? ", accepted" : ", not accepted"));
        terminal.print("  inside     " + g.insideHost().orElse("no inside host set"));
        terminal.print("  backup     "
                + g.newestBackup()
                        .map(b -> "number " + b.number() + ", " + Terminal.ago(b.takenAt()))
                        .orElse("none"));
        g.uplinks().forEach(u -> terminal.print("  uplink     " + u));
        for (OfficeApi.Listener l : g.listeners()) {
            if (l.gone()) {
                terminal.print("  listener   " + l.name() + ": gone from the device");
                continue;
            }
            terminal.print("  listener   " + l.name() + ": " + l.protocol() + " " + l.transport() + " " + l.port()
                    + ", clients call "
                    + l.endpoint().orElse("nothing yet") + ", tunnel " + String.join(", ", l.tunnels()) + ", "
                    + l.peers() + " peer addresses, "
                    + (l.inForce() ? "in force" : "written but not in force"));
        }
    }

    static void awaitReading(Terminal terminal, Calls calls, String name, WatchApi.Job job) {
        terminal.say("backing up and reading " + name);
        WatchApi.Job ended = calls.await(job.id());
        if (!ended.state().equals("done")) {
            throw CallFailure.of(ProblemCode.GATEWAY_REFUSED, name + ": " + ended.note());
        }
        show(terminal, find(calls, name));
    }

    @Command(
            name = "accept",
            mixinStandardHelpOptions = true,
            description = "Accept a gateway's identity; it is then backed up and read.",
            footer = {"", "  tender gateway accept pier2 SHA256:…"})
    static final class Accept extends Verb {
        @Parameters(paramLabel = "NAME")
        String name;

        @Parameters(paramLabel = "FINGERPRINT", description = "The fingerprint as read on the device.")
        String identity;

        @Override
        int run() {
            Calls calls = calls();
            OfficeApi.Gateway g = find(calls, name);
            awaitReading(
                    terminal,
                    calls,
                    name,
                    calls.post(
                            "/gateways/" + g.id() + "/accept",
                            new OfficeApi.AcceptIdentity(identity),
                            WatchApi.Job.class));
            return 0;
        }
    }

    @Command(
            name = "read",
            mixinStandardHelpOptions = true,
            description = "Back up a gateway and read it again, or all of them.",
            footer = {"", "  tender gateway read pier2", "  tender gateway read --all"})
    static final class Read extends Verb {
        @Parameters(paramLabel = "NAME", arity = "0..1")
        Optional<String> name;

        @Option(names = "--all", description = "All gateways, several at once.")
        boolean all;

        @Override
        int run() {
            Calls calls = calls();
            if (name.isPresent() == all) {
                throw CallFailure.of(ProblemCode.MALFORMED, "name a gateway, or say --all");
            }
            if (all) {
                return readAll(calls);
            }
            awaitReading(
                    terminal,
                    calls,
                    name.get(),
                    calls.post("/gateways/" + find(calls, name.get()).id() + "/read", null, WatchApi.Job.class));
            return 0;
        }

        private int readAll(Calls calls) {
            List<OfficeApi.ReadJob> left = new ArrayList<>(
                    calls.post("/gateways/read", null, OfficeApi.ReadAll.class).jobs());
            int whole = left.size();
            List<List<String>> failed = new ArrayList<>();
            while (!left.isEmpty()) {
                left.removeIf(one -> {
                    WatchApi.Job job = calls.get("/jobs/" + one.jobId(), WatchApi.Job.class);
                    boolean tried = job.endedAt().isPresent()
                            || job.attempts() > 0
                                    && !job.note().isEmpty()
                                    && job.state().equals("waiting");
                    if (tried && !job.state().equals("done")) {
                        failed.add(List.of(one.gateway(), job.note()));
                    }
                    return tried;
                });
                terminal.say((whole - left.size()) + " of " + whole + " read");
                if (!left.isEmpty()) {
                    Calls.pause();
                }
            }
            terminal.table(List.of("GATEWAY", "NOT READ"), failed, "all " + whole + " were read");
            return failed.isEmpty() ? 0 : 1;
        }
    }

    @Command(name = "apply", mixinStandardHelpOptions = true, description = "Bring a gateway to what the records want.")
    static final class Apply extends Verb {
        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        int run() {
            Calls calls = calls();
            WatchApi.Job ended =
                    calls.await(calls.post("/gateways/" + find(calls, name).id() + "/apply", null, WatchApi.Job.class)
                            .id());
            terminal.say(ended.state().equals("done") ? name + " is as the records want" : name + ": " + ended.note());
            return ended.state().equals("done") ? 0 : 1;
        }
    }

    @Command(name = "list", mixinStandardHelpOptions = true, description = "Gateways, all or those that fit.")
    static final class Ls extends Verb {
        @Option(names = "--text", description = "A part of name or site.")
        Optional<String> text;

        @Option(names = "--site", description = "At this site.")
        Optional<String> site;

        @Override
        int run() {
            List<OfficeApi.Gateway> all = calls().list(
                            Calls.query("/gateways", Map.of("text", text, "site", site)),
                            OfficeApi.Gateway.class,
                            10_000);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("GATEWAY", "SITE", "KIND", "CLIENTS CALL", "LISTENERS", "BACKUP", "STATE"),
                        all.stream().map(GatewayCommands::row).toList(),
                        text.isPresent() || site.isPresent()
                                ? "no gateway fits"
                                : "no gateways yet; add one: tender gateway add NAME --site SITE --address ADDRESS --user USER --key-file FILE");
            }
            return 0;
        }
    }

    @Command(name = "show", mixinStandardHelpOptions = true, description = "One gateway.")
    static final class Show extends Verb {
        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        int run() {
            show(terminal, find(calls(), name));
            return 0;
        }
    }

    @Command(
            name = "drift",
            mixinStandardHelpOptions = true,
            description = "What was changed at the device and not through Tender; --note takes note of it.")
    static final class Drifted extends Verb {
        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--note", description = "Take note: it is no finding any more.")
        boolean note;

        @Override
        int run() {
            Calls calls = calls();
            String path = "/gateways/" + find(calls, name).id() + "/drift";
            if (note) {
                calls.post(path + "/note", null, null);
                terminal.say("noted");
                return 0;
            }
            List<ChangeApi.Drift> all = calls.list(path, ChangeApi.Drift.class, 200);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("SEEN", "NOTED", "WHAT", "WAS", "IS"),
                        all.stream()
                                .map(d -> List.of(
                                        Terminal.ago(d.seenAt()),
                                        d.noted() ? "yes" : "no",
                                        d.field(),
                                        d.was().isEmpty() ? "-" : d.was(),
                                        d.becomes().isEmpty() ? "-" : d.becomes()))
                                .toList(),
                        "nothing was changed at the device but through Tender");
            }
            return all.stream().allMatch(ChangeApi.Drift::noted) ? 0 : 1;
        }
    }

    @Command(name = "log", mixinStandardHelpOptions = true, description = "The last lines of the device's log.")
    static final class Log extends Verb {
        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        int run() {
            Calls calls = calls();
            ChangeApi.Log log = calls.get("/gateways/" + find(calls, name).id() + "/log", ChangeApi.Log.class);
            if (terminal.json) {
                terminal.json(log);
            } else {
                log.lines().forEach(terminal::print);
            }
            return 0;
        }
    }
}
