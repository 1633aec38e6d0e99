package tender.client;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
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
import tender.core.credential.Secret;

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
            name = "add",
            mixinStandardHelpOptions = true,
            description =
                    "Add a gateway. Its identity is shown; compare it with the one on the device, then accept it.",
            footer = {
                "",
                "  tender gateway add pier2 --site pier-two --address 192.0.2.10 --user keeper --key-file ~/.ssh/keeper"
            })
    static final class Add extends Verb {
        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--site", required = true)
        String site;

        @Option(names = "--address", description = "Name or address to manage it at.")
        Optional<String> address;

        @Option(names = "--port", description = "Port to manage it at. Default: 22")
        Optional<Integer> port;

        @Option(names = "--user", description = "As whom to sign in there. Default for https: bridge")
        Optional<String> user;

        @Option(
                names = "--key-file",
                description = "File with the private SSH key without a passphrase, or with a bridge's token.")
        Optional<Path> keyFile;

        @Option(names = "--connector", description = "ssh, https (the bridge interface) or file. Default: ssh")
        Optional<String> connector;

        @Option(
                names = "--description",
                description = "The kind of box; tender description list shows them. Default: plain-router")
        Optional<String> description;

        @Option(names = "--read-only", description = "Refuse every change of it.")
        boolean readOnly;

        @Option(names = "--kind", description = "router, nas or firewall. Default: router")
        Optional<String> kind;

        @Option(
                names = "--inside-host",
                description = "A host inside that answers echo; proofs rest on it. Default: what the gateway says")
        Optional<String> insideHost;

        @Option(names = "--endpoint", description = "Name or address that clients call. Default: what the gateway says")
        Optional<String> endpoint;

        @Override
        int run() {
            Secret key;
            try {
                key = Secret.of(keyFile.isPresent() ? Files.readString(keyFile.get()) : "");
            } catch (IOException e) {
                throw CallFailure.of(ProblemCode.MALFORMED, "the key file cannot be read");
            }
            OfficeApi.Gateway g = calls().post(
                            "/gateways",
                            new OfficeApi.AddGateway(
                                    name,
                                    site,
                                    kind,
                                    address.orElse(""),
                                    port,
                                    user.orElse("bridge"),
                                    key,
                                    insideHost,
                                    endpoint,
                                    connector,
                                    description,
                                    Optional.of(readOnly)),
                            OfficeApi.Gateway.class);
            if (terminal.json) {
                terminal.json(g);
            } else if (g.identityAccepted()) {
                terminal.print(g.name() + " is added");
                terminal.say("  do: copy its files and drop them:   tender gateway drop " + g.name() + " FOLDER");
            } else {
                terminal.print(g.name() + " shows the identity " + g.identity());
                terminal.say("  do: compare it on the device, then   tender gateway accept " + g.name() + " "
                        + g.identity());
            }
            return 0;
        }
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
            name = "set",
            mixinStandardHelpOptions = true,
            description = "Set what operators know of a gateway: what clients call, how it is reached, and more.",
            footer = {
                "",
                "  tender gateway set pier2 --endpoint pier2.skerrivane.example",
                "  tender gateway set slip-nas --uplink behind:slip-front",
                "  tender gateway set pier2 --uplink \"fixed:192.0.2.10 pier2.skerrivane.example 100/20\" --factory changed"
            })
    static final class Set extends Verb {
        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--inside-host", description = "A host inside that answers echo.")
        Optional<String> insideHost;

        @Option(
                names = "--endpoint",
                description = "Names or addresses that clients call, in order, parted by commas, without the port.")
        Optional<String> endpoint;

        @Option(
                names = "--uplink",
                description =
                        "fixed:ADDRESS [NAME] [DOWN/UP], changing:NAME, behind:GATEWAY or carrier-nat; bandwidth in Mbit/s.")
        List<String> uplinks = List.of();

        @Option(names = "--factory", description = "Whether factory credentials still work: changed or still-work.")
        Optional<String> factory;

        @Option(names = "--read-only", arity = "1", description = "true refuses every change of it.")
        Optional<Boolean> readOnly;

        @Option(names = "--description", description = "The kind of box.")
        Optional<String> description;

        @Option(names = "--joined-with", description = "A gateway it is joined with as one network.")
        Optional<String> joinedWith;

        @Override
        int run() {
            Calls calls = calls();
            Calls.Reply reply = calls.getVersioned("/gateways/named/" + name);
            OfficeApi.Gateway g = Json.read(reply.body(), OfficeApi.Gateway.class);
            show(
                    terminal,
                    calls.patch(
                            "/gateways/" + g.id(),
                            new OfficeApi.SetGateway(
                                    insideHost,
                                    endpoint,
                                    uplinks.isEmpty() ? Optional.empty() : Optional.of(uplinks),
                                    factory,
                                    readOnly,
                                    description,
                                    joinedWith),
                            reply.version().orElse(""),
                            OfficeApi.Gateway.class));
            terminal.say("files handed out before may no longer fit: tender finding list");
            return 0;
        }
    }

    @Command(
            name = "facts",
            mixinStandardHelpOptions = true,
            description = "All that a gateway said of itself; --explain puts each setting into plain words.")
    static final class Facts extends Verb {
        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--explain", description = "Say what each setting does, what it costs, and a safe value.")
        boolean explain;

        @Override
        int run() {
            Calls calls = calls();
            ChangeApi.Facts f = calls.get("/gateways/" + find(calls, name).id() + "/facts", ChangeApi.Facts.class);
            if (terminal.json) {
                terminal.json(f);
                return 0;
            }
            f.facts().forEach((k, v) -> terminal.print(String.format("%-12s %s", k, v)));
            lines("uplink", f.uplinks());
            lines("network", f.networks());
            lines("interface", f.interfaces());
            lines("forward", f.forwards());
            lines("filter", f.rules());
            lines("account", f.accounts());
            for (ChangeApi.ExplainedListener l : f.listeners()) {
                terminal.print("");
                terminal.print("listener " + l.name() + ", " + l.protocol());
                for (ChangeApi.ExplainedSetting s : l.settings()) {
                    terminal.print(String.format("  %-18s %s", s.setting(), s.value()));
                    if (explain) {
                        terminal.print("      " + s.does());
                        terminal.print("      " + s.costs() + " Safe: " + s.safe() + ".");
                    }
                }
            }
            return 0;
        }

        private void lines(String label, List<String> lines) {
            lines.forEach(l -> terminal.print(String.format("%-12s %s", label, l)));
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
