package tender.client.gateway;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.ChangeApi;
import tender.api.OfficeApi;
import tender.api.ProblemCode;
import tender.api.WatchApi;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Found;
import tender.client.command.RemoveCommand;
import tender.client.command.Terminal;

/** Gateways. */
final class GatewayCommands {
    private GatewayCommands() {}

    static String state(OfficeApi.Gateway g) {
        return !g.identityAccepted()
                ? "identity to accept"
                : g.readProblem().map(p -> "! " + p).orElse(g.readAt().isPresent() ? "ok" : "not read yet");
    }

    /** How many that nobody accepted, by severity. */
    private static String findings(OfficeApi.Gateway g) {
        String words = Stream.of(
                        count(g.findings().errors(), "error"),
                        count(g.findings().warnings(), "warning"),
                        count(g.findings().notices(), "notice"))
                .filter(w -> !w.isEmpty())
                .collect(Collectors.joining(", "));
        return words.isEmpty() ? "none" : words;
    }

    private static String count(int n, String word) {
        return n == 0 ? "" : n + " " + word + (n == 1 ? "" : "s");
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
                state(g),
                findings(g),
                Integer.toString(g.use().people()),
                g.listeners().stream()
                        .flatMap(l -> l.endpoint().stream())
                        .map(e -> e.substring(0, e.lastIndexOf(':')))
                        .distinct()
                        .collect(Collectors.joining(", ")),
                listeners,
                g.newestBackup()
                        .map(b -> "no. " + b.number() + ", " + Terminal.ago(b.takenAt()))
                        .orElse("none"));
    }

    static void show(Terminal terminal, OfficeApi.Gateway g) {
        if (terminal.json) {
            terminal.json(g);
            return;
        }
        terminal.print(g.name() + ", " + g.kind() + " at " + g.site()
                + (g.make().isEmpty() ? "" : ": " + g.make() + " " + g.model() + ", release " + g.release()));
        terminal.print("  state      " + state(g));
        terminal.print("  findings   " + findings(g));
        terminal.print("  people     " + g.use().people() + " with " + g.use().profiles()
                + (g.use().profiles() == 1 ? " profile, " : " profiles, ")
                + g.use().connected() + " connected");
        if (g.connector().equals("manual")) {
            terminal.print("  managed    by hand");
        } else {
            terminal.print("  managed    " + g.user() + "@" + g.address() + ":" + g.port() + " over " + g.connector()
                    + " with a " + g.signIn()
                    + g.jump().map(j -> ", through " + j).orElse(""));
            terminal.print("  identity   " + g.identity() + (g.identityAccepted() ? ", accepted" : ", not accepted"));
        }
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
                    + ", endpoint "
                    + l.endpoint().orElse("nothing yet") + ", tunnel " + String.join(", ", l.tunnels()) + ", "
                    + l.peers() + " peer addresses, "
                    + (l.active() ? "active" : "written but not active"));
        }
    }

    static void awaitReading(Terminal terminal, Calls calls, String name, WatchApi.Job job) {
        terminal.say("backing up and reading " + name);
        WatchApi.Job ended = calls.await(job.id());
        if (!ended.state().equals("done")) {
            throw CallFailure.of(ProblemCode.GATEWAY_REFUSED, name + ": " + ended.note());
        }
        show(terminal, Found.gateway(calls, name));
    }

    @Command(
            name = "accept",
            mixinStandardHelpOptions = true,
            description = "Accept a gateway's identity. Tender then backs it up and reads it.",
            footer = {
                "",
                "Any of its host keys will do; ssh-keygen -l -f /etc/ssh/ssh_host_ed25519_key.pub shows one on the device.",
                "  tender gateway accept pier2 SHA256:…"
            })
    static final class Accept extends ClientCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Parameters(paramLabel = "FINGERPRINT", description = "The fingerprint as read on the device.")
        String identity;

        @Override
        protected int run() {
            Calls calls = calls();
            OfficeApi.Gateway g = Found.gateway(calls, name);
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
    static final class Read extends ClientCommand {
        @Parameters(paramLabel = "NAME", arity = "0..1")
        Optional<String> name;

        @Option(names = "--all", description = "All gateways.")
        boolean all;

        @Override
        protected int run() {
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
                    calls.post(
                            "/gateways/" + Found.gateway(calls, name.get()).id() + "/read", null, WatchApi.Job.class));
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

    @Command(
            name = "sync",
            mixinStandardHelpOptions = true,
            description = "Write the recorded profiles, accounts and revocation lists to a gateway.")
    static final class Sync extends ClientCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        protected int run() {
            Calls calls = calls();
            WatchApi.Job ended = calls.await(
                    calls.post("/gateways/" + Found.gateway(calls, name).id() + "/apply", null, WatchApi.Job.class)
                            .id());
            terminal.say(ended.state().equals("done") ? name + " is as the records want" : name + ": " + ended.note());
            return ended.state().equals("done") ? 0 : 1;
        }
    }

    @Command(name = "list", mixinStandardHelpOptions = true, description = "List gateways.")
    static final class Ls extends ClientCommand {
        @Option(names = "--text", description = "A part of name or site.")
        Optional<String> text;

        @Option(names = "--site", description = "At this site.")
        Optional<String> site;

        @Option(names = "--kind", description = "router, nas or firewall")
        Optional<String> kind;

        @Option(names = "--state", description = "ok, unreachable, identity-not-accepted or not-read")
        Optional<String> state;

        @Option(
                names = "--sort",
                paramLabel = "COLUMN",
                description = "name, site, device, backup, findings or people; --sort=-COLUMN puts the last first.")
        Optional<String> sort;

        @Override
        protected int run() {
            List<OfficeApi.Gateway> all = calls().list(
                            Calls.query(
                                    "/gateways",
                                    Map.of("text", text, "site", site, "kind", kind, "state", state, "sort", sort)),
                            OfficeApi.Gateway.class,
                            10_000);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("GATEWAY", "SITE", "STATE", "FINDINGS", "PEOPLE", "ENDPOINT", "LISTENERS", "BACKUP"),
                        all.stream().map(GatewayCommands::row).toList(),
                        Stream.of(text, site, kind, state).anyMatch(Optional::isPresent)
                                ? "no gateway fits"
                                : "no gateways yet; add one: tender gateway add NAME --site SITE --address ADDRESS --user USER --key-file FILE");
            }
            return 0;
        }
    }

    @Command(name = "show", mixinStandardHelpOptions = true, description = "Show a gateway.")
    static final class Show extends ClientCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        protected int run() {
            show(terminal, Found.gateway(calls(), name));
            return 0;
        }
    }

    @Command(
            name = "drift",
            mixinStandardHelpOptions = true,
            description = "Show changes made on the device without Tender; --note accepts them.")
    static final class Drifted extends ClientCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--note", description = "Accept the change: it is not a finding any more.")
        boolean note;

        @Override
        protected int run() {
            Calls calls = calls();
            String path = "/gateways/" + Found.gateway(calls, name).id() + "/drift";
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

    @Command(name = "log", mixinStandardHelpOptions = true, description = "Show the last lines of the device's log.")
    static final class Log extends ClientCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        protected int run() {
            Calls calls = calls();
            ChangeApi.Log log =
                    calls.get("/gateways/" + Found.gateway(calls, name).id() + "/log", ChangeApi.Log.class);
            if (terminal.json) {
                terminal.json(log);
            } else {
                log.lines().forEach(terminal::print);
            }
            return 0;
        }
    }

    @Command(
            name = "remove",
            mixinStandardHelpOptions = true,
            description = "Remove a gateway that nobody connects through. Nothing is changed on the device.",
            footer = {"", "  tender gateway remove slip-spare --dry-run"})
    static final class Remove extends RemoveCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        protected String path(Calls calls) {
            return "/gateways/" + Found.gateway(calls, name).id();
        }
    }
}
