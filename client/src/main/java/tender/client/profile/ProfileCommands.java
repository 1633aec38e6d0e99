package tender.client.profile;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.ProblemCode;
import tender.api.ProfileApi;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Found;
import tender.client.command.Terminal;
import tender.client.command.Times;

/** Profiles. */
public final class ProfileCommands {
    private ProfileCommands() {}

    static String proof(ProfileApi.Proof proof) {
        return proof.at().map(at -> proof.state() + " " + Terminal.ago(at)).orElse(proof.state());
    }

    public static List<String> row(ProfileApi.Profile p) {
        return List.of(
                p.label(),
                p.personName().orElse(""),
                p.gateway(),
                String.join(", ", p.addresses()),
                "r" + p.revision(),
                p.state(),
                p.handout().orElse("not handed out"),
                proof(p.proof()) + (p.connected() ? ", connected now" : ""));
    }

    static final List<String> HEADS =
            List.of("PROFILE", "PERSON", "GATEWAY", "ADDRESS", "REV", "STATE", "HANDOUT", "PROOF");

    public static void show(Terminal terminal, ProfileApi.Profile p) {
        if (terminal.json) {
            terminal.json(p);
            return;
        }
        terminal.print(p.label() + ": " + p.personName().orElse("") + ", "
                + p.device().orElse("") + " to " + p.gateway() + " " + p.listener());
        terminal.print(
                "  state      " + p.state() + p.problem().map(w -> ": " + w).orElse(""));
        p.instruction().ifPresent(i -> terminal.print("  by hand    " + i));
        terminal.print(
                "  address    " + (p.addresses().isEmpty() ? "given by the server" : String.join(", ", p.addresses())));
        terminal.print("  reach      "
                + (p.fullTunnel()
                        ? "everything (full tunnel)"
                        : p.reach().isEmpty() ? "what the server pushes" : String.join(", ", p.reach())));
        if (!p.dns().isEmpty()) {
            terminal.print("  dns        " + String.join(", ", p.dns()));
        }
        String kind = p.identity().kind();
        terminal.print("  " + String.format("%-11s", kind.startsWith("certificate") ? "known as" : kind)
                + p.identity().value() + (kind.equals("account") ? ", password " : ", private key ")
                + (p.custody().equals("held") ? "held by Tender" : p.custody()));
        terminal.print("  handout    " + p.handout().orElse("not handed out"));
        terminal.print("  proof      " + proof(p.proof())
                + (p.proof().restsOn().isEmpty()
                        ? ""
                        : ", rests on " + p.proof().restsOn()));
        p.revisions()
                .forEach(r -> terminal.print("  revision   " + r.number() + ", " + r.fileName() + ", sha-256 "
                        + r.digest().substring(0, 16) + "…, " + Terminal.ago(r.createdAt())));
    }

    /** Waits until the gateway shows what was wanted. */
    static int await(Terminal terminal, Calls calls, ProfileApi.Issued issued, String wanted) {
        if (issued.jobId().isPresent()) {
            terminal.say("writing " + issued.profile().gateway() + ": backup, lock, write, reload, read again");
        }
        String id = issued.profile().id();
        while (true) {
            // the job first: a profile read after its job's end shows what the job did
            var job = issued.jobId().map(j -> calls.get("/jobs/" + j, tender.api.WatchApi.Job.class));
            ProfileApi.Profile now = calls.get("/profiles/" + id, ProfileApi.Profile.class);
            boolean settled = now.state().equals(wanted)
                    || now.instruction().isPresent()
                    || now.state().equals("failed")
                    || now.problem().isPresent();
            if (!settled && job.filter(j -> j.endedAt().isPresent()).isPresent()) {
                throw CallFailure.of(
                        ProblemCode.GATEWAY_UNREACHABLE,
                        now.gateway() + " could not be written yet: "
                                + job.get().note() + "; it will be when it answers");
            }
            if (settled) {
                show(terminal, now);
                now.instruction()
                        .filter(i -> now.state().equals("waiting"))
                        .ifPresent(i -> terminal.say("  do: tender instruction show " + now.label()
                                + "   shows the text to copy; when it is done: tender instruction done "
                                + now.label()));
                now.instruction()
                        .filter(i -> now.state().equals("closing"))
                        .ifPresent(i -> terminal.say("  do: " + i + ", then tender instruction done " + now.label()
                                + "; until it is shown to be closed it stays on the overview"));
                return now.state().equals(wanted) || now.instruction().isPresent() ? 0 : 1;
            }
            Calls.pause();
        }
    }

    @Command(
            name = "list",
            mixinStandardHelpOptions = true,
            description = "List profiles.",
            footerHeading = "%nExamples:%n",
            footer = {
                "  tender profile list --gateway orrin-fw --open unproven",
                "  tender profile list --team masters --state ready --json"
            })
    static final class Ls extends ClientCommand {
        @Option(names = "--text", description = "A part of the label, or of the person's name.")
        Optional<String> text;

        @Option(names = "--gateway", description = "Of this gateway.")
        Optional<String> forGateway;

        @Option(names = "--site", description = "Of this site's gateways.")
        Optional<String> site;

        @Option(names = "--person", description = "Of this person.")
        Optional<String> person;

        @Option(names = "--team", description = "Of this team's people.")
        Optional<String> team;

        @Option(
                names = "--state",
                description = "In this state, such as ready; living leaves out withdrawn and failed ones.")
        Optional<String> state;

        @Option(
                names = "--open",
                description = "Profiles with something to do: not-handed-out, never-seen, unproven or failing.")
        Optional<String> open;

        @Option(
                names = "--sort",
                paramLabel = "COLUMN",
                description = "label, person, gateway, state, handout or proof; --sort=-COLUMN puts the last first.")
        Optional<String> sort;

        @Override
        protected int run() {
            Map<String, Optional<String>> asked = new LinkedHashMap<>();
            asked.put("text", text);
            asked.put("gateway", forGateway);
            asked.put("site", site);
            asked.put("person", person);
            asked.put("team", team);
            asked.put("state", state);
            asked.put("open", open);
            asked.put("sort", sort);
            List<ProfileApi.Profile> all =
                    calls().list(Calls.query("/profiles", asked), ProfileApi.Profile.class, 100_000);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        HEADS,
                        all.stream().map(ProfileCommands::row).toList(),
                        asked.values().stream().anyMatch(Optional::isPresent)
                                ? "no profile fits"
                                : "no profiles yet; issue one: tender profile issue PERSON DEVICE --gateway GATEWAY");
            }
            return 0;
        }
    }

    @Command(name = "show", mixinStandardHelpOptions = true, description = "Show a profile with its revisions.")
    static final class Show extends ClientCommand {
        @Parameters(paramLabel = "PROFILE")
        String label;

        @Override
        protected int run() {
            show(terminal, Found.profile(calls(), label));
            return 0;
        }
    }

    @Command(
            name = "settings",
            mixinStandardHelpOptions = true,
            description =
                    "The settings sheet for a person who must type: what to enter where, in the right order. It contains no secret.",
            footer = {
                "",
                "  tender profile settings mara-phone-orrin-fw",
                "  tender profile settings yara-laptop-slip-nas --platform windows --form pdf --out yara.pdf"
            })
    static final class Settings extends ClientCommand {
        @Parameters(paramLabel = "PROFILE")
        String label;

        @Option(names = "--form", description = "text, html or pdf. Default: text")
        String form = "text";

        @Option(
                names = "--platform",
                description = "windows, apple, android or linux. Default: what is noted of the device")
        Optional<String> platform;

        @Option(names = "--language", description = "Language of the sheet, such as en or de. Default: en")
        Optional<String> language;

        @Option(names = "--out", description = "File to write; needed for pdf.")
        Optional<Path> out;

        @Override
        protected int run() {
            if (form.equals("pdf") && out.isEmpty()) {
                throw CallFailure.of(ProblemCode.MALFORMED, "a PDF goes to a file: --out FILE");
            }
            Calls calls = calls();
            byte[] sheet = calls.send(
                            "GET",
                            "/profiles/" + Found.profile(calls, label).id() + "/settings?form=" + form
                                    + platform.map(p -> "&platform=" + p).orElse("")
                                    + language.map(l -> "&language=" + l).orElse(""),
                            null)
                    .body();
            if (out.isEmpty()) {
                terminal.print(new String(sheet, StandardCharsets.UTF_8).strip());
                return 0;
            }
            try {
                Files.write(out.get(), sheet);
            } catch (IOException e) {
                throw CallFailure.of(ProblemCode.CONFLICT, out.get() + " cannot be written");
            }
            terminal.print(out.get().toString());
            return 0;
        }
    }

    @Command(
            name = "renew",
            mixinStandardHelpOptions = true,
            description = "Create a new revision for the listener's present settings; the keys stay.",
            footer = {"", "  tender profile renew mara-phone-pier2 --to wg0-443   (moves it to a listener side by side)"
            })
    static final class Renew extends ClientCommand {
        @Parameters(paramLabel = "PROFILE")
        String label;

        @Option(
                names = "--to",
                paramLabel = "LISTENER",
                description = "Move the profile to this listener; the old one keeps working until then.")
        Optional<String> to;

        @Option(
                names = "--until",
                paramLabel = "TIME",
                description = "The new expiry of its credentials: a date, 30d, \"2027-01-20 18:00\".")
        Optional<String> until;

        @Override
        protected int run() {
            Calls calls = calls();
            ProfileApi.Profile p = calls.post(
                    "/profiles/" + Found.profile(calls, label).id() + "/renew",
                    new ProfileApi.Renew(to, until.map(Times::until)),
                    ProfileApi.Profile.class);
            show(terminal, p);
            terminal.say("  do: tender handout prepare " + p.label());
            return 0;
        }
    }

    @Command(
            name = "withdraw",
            mixinStandardHelpOptions = true,
            description =
                    "Withdraw a profile: revoke its credentials, end its links and remove its peer or account from the gateway. This cannot be undone.")
    static final class Withdraw extends ClientCommand {
        @Parameters(paramLabel = "PROFILE")
        String label;

        @Option(names = "--yes", description = "Do not ask.")
        boolean yes;

        @Override
        protected int run() {
            Calls calls = calls();
            ProfileApi.Profile p = Found.profile(calls, label);
            if (!terminal.confirmed(
                    "Withdraw " + label + "? " + p.personName().orElse("It") + " cannot connect with it any more"
                            + (p.connected() ? ", and is connected now." : "."),
                    yes)) {
                return 1;
            }
            return await(
                    terminal,
                    calls,
                    calls.post("/profiles/" + p.id() + "/withdraw", null, ProfileApi.Issued.class),
                    "withdrawn");
        }
    }
}
