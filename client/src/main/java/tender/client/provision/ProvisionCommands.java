package tender.client.provision;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.ProblemCode;
import tender.api.ProvisionApi;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Found;
import tender.client.command.LocalFiles;
import tender.client.command.PrivateFile;
import tender.client.command.Terminal;
import tender.core.credential.RevealSecret;
import tender.core.wire.MalformedException;
import tender.io.provision.ProvisioningFile;

/** Provisioning files, and the devices that joined with them. */
public final class ProvisionCommands {
    private static final int MOST = 10_000;

    private ProvisionCommands() {}

    @Command(
            name = "create",
            mixinStandardHelpOptions = true,
            description = {
                "Make a provisioning file for each device, or one for a team. A device joins with it, gets its profiles and keeps them current.",
                "Send the file; tell the signer's fingerprint, and the code where there is one, another way."
            },
            footer = {
                "",
                "  tender provision create mara/laptop bo/laptop --gateway pier2 --out files",
                "  tender provision create --team crew --gateway pier2 --gateway slip-nas/staff",
                "  tender provision create mara/laptop --code --days 2 --dry-run"
            })
    static final class Create extends ClientCommand {
        @Parameters(paramLabel = "PERSON/DEVICE", arity = "0..*")
        List<String> devices = List.of();

        @Option(names = "--team", description = "One file that each member joins with, by a code of their own.")
        Optional<String> team;

        @Option(
                names = "--gateway",
                paramLabel = "GATEWAY[/LISTENER]",
                description =
                        "Whoever joins gets a profile there; several in order of priority. Default: where the device has profiles")
        List<String> gateways = List.of();

        @Option(
                names = "--service",
                paramLabel = "URL",
                description = "Where devices find the service; several in order of priority. Default: the staff's page")
        List<String> services = List.of();

        @Option(names = "--days", description = "How long somebody can join with it. Default: 7")
        Optional<Integer> days;

        @Option(names = "--code", description = "Ask for a code beside the file; of a team it is always asked for.")
        boolean code;

        @Option(names = "--out", description = "Folder for the files. Default: here")
        Path out = Path.of(".");

        @Option(names = "--dry-run", description = "Check all of it and make nothing.")
        boolean dryRun;

        @Override
        protected int run() {
            ProvisionApi.Created made = calls().post(
                            "/provisions",
                            new ProvisionApi.Create(
                                    devices, team, gateways, services, days, Optional.of(code), Optional.of(dryRun)),
                            ProvisionApi.Created.class);
            if (terminal.json) {
                terminal.json(made);
                return 0;
            }
            for (ProvisionApi.File f : made.files()) {
                if (dryRun) {
                    terminal.print(f.fileName() + "  for " + String.join(", ", f.gateways()));
                    continue;
                }
                Path target = free(f.fileName());
                PrivateFile.write(
                        target,
                        f.file()
                                .orElseThrow()
                                .revealText(RevealSecret.TO_WRITE_FILE)
                                .getBytes(StandardCharsets.UTF_8));
                terminal.print(target + "  until " + f.ends());
                f.codes()
                        .forEach((handle, secret) -> terminal.print(
                                "  code for " + handle + "  " + secret.revealText(RevealSecret.TO_HAND_OUT)));
            }
            terminal.print("signer  " + made.signer());
            made.notes().forEach(n -> terminal.say("note: " + n));
            terminal.say(
                    dryRun
                            ? "nothing was made"
                            : "send each file; tell the signer" + (hasCodes(made) ? " and the code" : "")
                                    + " another way. On the device: tender device join FILE");
            return 0;
        }

        private static boolean hasCodes(ProvisionApi.Created made) {
            return made.files().stream().anyMatch(f -> !f.codes().isEmpty());
        }

        /** A file that is there is not written over: its token may still be on its way to somebody. */
        private Path free(String name) {
            Path target = out.resolve(name);
            for (int i = 2; Files.exists(target); i++) {
                target = out.resolve(name.replaceAll("\\.tender$", "-" + i + ".tender"));
            }
            return target;
        }
    }

    @Command(
            name = "list",
            mixinStandardHelpOptions = true,
            description = "List provisioning files that were made, newest first.",
            footer = {"", "  tender provision list"})
    static final class Ls extends ClientCommand {
        @Override
        protected int run() {
            List<ProvisionApi.Provision> all = calls().list("/provisions", ProvisionApi.Provision.class, MOST);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("PROVISION", "FOR", "STATE", "JOINED", "MADE", "ENDS"),
                        all.stream()
                                .map(p -> List.of(
                                        Found.shortId(p.id()),
                                        p.device()
                                                .orElseGet(
                                                        () -> "team " + p.team().orElse("")),
                                        p.state(),
                                        Integer.toString(p.joined()),
                                        Terminal.ago(p.createdAt()),
                                        p.ends().toString()))
                                .toList(),
                        "no provisioning file was made yet; tender provision create PERSON/DEVICE --gateway GATEWAY");
            }
            return 0;
        }
    }

    @Command(
            name = "devices",
            mixinStandardHelpOptions = true,
            description =
                    "List devices that joined: what they hold, whether it is the newest, and whether they connect with it.",
            footer = {"", "  tender provision devices", "  tender provision devices --person mara --behind"})
    static final class Devices extends ClientCommand {
        @Option(names = "--person", description = "Of this person.")
        Optional<String> person;

        @Option(names = "--behind", description = "Those alone that do not hold the newest, or do not connect with it.")
        boolean behind;

        @Override
        protected int run() {
            Map<String, Optional<String>> wanted =
                    Map.of("person", person, "behind", behind ? Optional.of("true") : Optional.empty());
            List<ProvisionApi.Enrolment> all =
                    calls().list(Calls.query("/enrolments", wanted), ProvisionApi.Enrolment.class, MOST);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("DEVICE", "STATE", "NEWEST", "CONNECT", "HEARD", "PROBLEM"),
                        all.stream()
                                .map(e -> List.of(
                                        e.person() + "/" + e.device(),
                                        e.state(),
                                        e.current() + " of " + e.profiles(),
                                        e.proven() + " of " + e.profiles(),
                                        Terminal.ago(e.seenAt()),
                                        e.problem().or(e::found).orElse("")))
                                .toList(),
                        behind
                                ? "every device that joined holds the newest and connects with it"
                                : "no device has joined; tender provision create PERSON/DEVICE --gateway GATEWAY");
            }
            return 0;
        }
    }

    @Command(
            name = "check",
            mixinStandardHelpOptions = true,
            description =
                    "Read a provisioning file and say what is in it, and whether it was altered or has ended. Nothing is sent.",
            footer = {"", "  tender provision check mara-laptop.tender", "", "Exit code 1 if a device would refuse it."
            })
    static final class Check extends ClientCommand {
        /** What programs read of it; never the token. */
        record Read(
                String signer,
                Instant ends,
                boolean ended,
                boolean asksCode,
                Optional<String> person,
                Optional<String> device,
                Optional<String> team,
                List<String> services,
                List<ProvisioningFile.Gateway> gateways) {}

        @Parameters(paramLabel = "FILE")
        Path file;

        @Override
        protected int run() {
            ProvisioningFile.Signed opened;
            try {
                opened = ProvisioningFile.read(new String(LocalFiles.read(file), StandardCharsets.UTF_8));
            } catch (MalformedException e) {
                throw CallFailure.of(
                        ProblemCode.CONFLICT, file + ": " + (e.place().isEmpty() ? "" : e.place() + " ") + e.what());
            }
            ProvisioningFile f = opened.file();
            boolean ended = f.ends().isBefore(Instant.now());
            if (terminal.json) {
                terminal.json(new Read(
                        opened.signer().fingerprint(),
                        f.ends(),
                        ended,
                        f.asksCode(),
                        f.person(),
                        f.device(),
                        f.team(),
                        f.services().stream().map(Object::toString).toList(),
                        f.gateways()));
            } else {
                terminal.print("for       "
                        + f.team()
                                .map(t -> "team " + t)
                                .orElseGet(() ->
                                        f.person().orElse("") + "/" + f.device().orElse("")));
                terminal.print("signer    " + opened.signer().fingerprint());
                terminal.print("ends      " + f.ends() + (ended ? ", it has ended" : ""));
                terminal.print("asks for  " + (f.asksCode() ? "the token in it, and a code" : "the token in it"));
                terminal.print("services  "
                        + f.services().stream().map(Object::toString).collect(Collectors.joining(", ")));
                f.gateways()
                        .forEach(g ->
                                terminal.print("gateway   " + g.name() + ", " + g.protocol() + ", " + g.endpoint()));
            }
            return ended ? 1 : 0;
        }
    }

    @Command(
            name = "withdraw",
            mixinStandardHelpOptions = true,
            description = "Nobody joins with a provisioning file from now on. Devices that have joined stay.",
            footer = {"", "  tender provision withdraw 1a2b3c4d"})
    static final class Withdraw extends ClientCommand {
        @Parameters(paramLabel = "PROVISION", description = "As tender provision list shows it.")
        String name;

        @Override
        protected int run() {
            Calls calls = calls();
            ProvisionApi.Provision p = calls.list("/provisions", ProvisionApi.Provision.class, MOST).stream()
                    .filter(x -> name.equals(x.id()) || name.equals(Found.shortId(x.id())))
                    .findFirst()
                    .orElseThrow(() -> CallFailure.of(
                            ProblemCode.NOT_FOUND,
                            "there is no provisioning file " + name + "; tender provision list names them"));
            ProvisionApi.Provision after =
                    calls.post("/provisions/" + p.id() + "/withdraw", null, ProvisionApi.Provision.class);
            if (terminal.json) {
                terminal.json(after);
            } else {
                terminal.say("the file for "
                        + after.device().orElseGet(() -> "team " + after.team().orElse("")) + " is withdrawn");
            }
            return 0;
        }
    }

    @Command(
            name = "end",
            mixinStandardHelpOptions = true,
            description = {
                "A device no longer keeps itself current: it removes its files when it asks next, and has to join anew.",
                "Its profiles stay valid at the gateways; tender device lost withdraws them."
            },
            footer = {"", "  tender provision end mara laptop"})
    static final class End extends ClientCommand {
        @Parameters(index = "0", paramLabel = "PERSON")
        String person;

        @Parameters(index = "1", paramLabel = "DEVICE")
        String device;

        @Option(names = "--yes", description = "Do not ask.")
        boolean yes;

        @Override
        protected int run() {
            if (!terminal.confirmed("End " + person + "'s " + device + "?", yes)) {
                return 1;
            }
            calls().post("/people/" + person + "/devices/" + device + "/end-enrolment", null, null);
            terminal.say(person + "'s " + device + " is ended");
            return 0;
        }
    }
}
