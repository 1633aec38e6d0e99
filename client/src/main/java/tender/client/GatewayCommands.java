package tender.client;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
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
                        .map(l -> l.protocol() + " " + l.transport() + " " + l.port())
                        .toList());
        return List.of(
                g.name(),
                g.site(),
                g.kind(),
                g.endpointHost().orElse(""),
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
        for (OfficeApi.Listener l : g.listeners()) {
            terminal.print("  listener   " + l.name() + ": " + l.protocol() + " " + l.transport() + " " + l.port()
                    + ", clients call "
                    + l.endpoint().orElse("nothing yet") + ", tunnel " + String.join(", ", l.tunnels()) + ", "
                    + l.peers() + " peer addresses, "
                    + (l.inForce() ? "in force" : "written but not in force"));
        }
    }

    private static void awaitReading(Terminal terminal, Calls calls, String name, WatchApi.Job job) {
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

        @Option(names = "--address", required = true, description = "Name or address to manage it at.")
        String address;

        @Option(names = "--port", description = "SSH port. Default: 22")
        Optional<Integer> port;

        @Option(names = "--user", required = true, description = "As whom to sign in there.")
        String user;

        @Option(
                names = "--key-file",
                required = true,
                description = "File with the private SSH key, without a passphrase.")
        Path keyFile;

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
                key = Secret.of(Files.readString(keyFile));
            } catch (IOException e) {
                throw CallFailure.of(ProblemCode.MALFORMED, "the key file cannot be read");
            }
            OfficeApi.Gateway g = calls().post(
                            "/gateways",
                            new OfficeApi.AddGateway(name, site, kind, address, port, user, key, insideHost, endpoint),
                            OfficeApi.Gateway.class);
            if (terminal.json) {
                terminal.json(g);
            } else {
                terminal.print(g.name() + " shows the host key " + g.identity());
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

    @Command(name = "read", mixinStandardHelpOptions = true, description = "Back up a gateway and read it again.")
    static final class Read extends Verb {
        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        int run() {
            Calls calls = calls();
            awaitReading(
                    terminal,
                    calls,
                    name,
                    calls.post("/gateways/" + find(calls, name).id() + "/read", null, WatchApi.Job.class));
            return 0;
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

    @Command(name = "list", mixinStandardHelpOptions = true, description = "All gateways.")
    static final class Ls extends Verb {
        @Override
        int run() {
            List<OfficeApi.Gateway> all = calls().list("/gateways", OfficeApi.Gateway.class, 10_000);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("GATEWAY", "SITE", "KIND", "CLIENTS CALL", "LISTENERS", "BACKUP", "STATE"),
                        all.stream().map(GatewayCommands::row).toList(),
                        "no gateways yet; add one: tender gateway add NAME --site SITE --address ADDRESS --user USER --key-file FILE");
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
            description = "Set the inside host and the endpoint that clients call.")
    static final class Set extends Verb {
        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--inside-host", description = "A host inside that answers echo.")
        Optional<String> insideHost;

        @Option(names = "--endpoint", description = "Name or address that clients call, without the port.")
        Optional<String> endpoint;

        @Override
        int run() {
            Calls calls = calls();
            Calls.Reply reply = calls.getVersioned("/gateways/named/" + name);
            OfficeApi.Gateway g = Json.read(reply.body(), OfficeApi.Gateway.class);
            show(
                    terminal,
                    calls.patch(
                            "/gateways/" + g.id(),
                            new OfficeApi.SetGateway(insideHost, endpoint),
                            reply.version().orElse(""),
                            OfficeApi.Gateway.class));
            terminal.say("files handed out before may no longer fit: tender finding list");
            return 0;
        }
    }
}
