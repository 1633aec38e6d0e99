package tender.client.handout;

import java.io.IOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.HandoutApi;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Found;
import tender.client.command.Json;
import tender.client.command.Terminal;
import tender.client.command.WhoseOptions;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;

/** Handouts. */
final class HandoutCommands {
    private static final int MOST = 1_000;

    private HandoutCommands() {}

    private static HandoutApi.Handout newest(Calls calls, String label) {
        return calls.list("/handouts?profile=" + Found.profile(calls, label).id(), HandoutApi.Handout.class, 1).stream()
                .findFirst()
                .orElseThrow(() -> CallFailure.of(ProblemCode.NOT_FOUND, label + " was never handed out"));
    }

    private static List<String> row(HandoutApi.Handout h) {
        return List.of(
                h.profile(),
                h.personName().orElse(""),
                h.fileName(),
                h.state(),
                h.collectionsLeft() + " of " + h.collectionsAllowed(),
                h.collectedAt().map(Terminal::ago).orElse(""),
                h.digest().substring(0, 12));
    }

    @Command(
            name = "prepare",
            mixinStandardHelpOptions = true,
            description =
                    "Prepare a link and a passphrase for a profile's newest revision, or for every profile of a team or gateway that was not handed out yet. Both are shown once. Profiles that do not fit are held back, with the reasons.",
            footer = {
                "",
                "  tender handout prepare mara-phone-pier2 --hours 24 --collections 1",
                "  tender handout prepare --team masters --gateway pier2 --dry-run",
                "  tender handout prepare mara-phone-pier2 --override 'the name is entered tonight'",
                "",
                "Exit code 1 if a profile is not fit to be handed out."
            })
    static final class Prepare extends ClientCommand {
        @Parameters(paramLabel = "PROFILE", arity = "0..*")
        List<String> labels = List.of();

        @Option(names = "--team", description = "Every profile of this team whose newest revision was not handed out.")
        Optional<String> team;

        @Option(names = "--gateway", description = "The same of this gateway.")
        Optional<String> gateway;

        @Option(names = "--hours", description = "How long the link works. Default: 72")
        Optional<Integer> hours;

        @Option(names = "--collections", description = "How often it can be collected. Default: 1")
        Optional<Integer> collections;

        @Option(
                names = "--legacy",
                description = "Use the weaker key store encryption that systems from before about 2019 need.")
        boolean legacy;

        @Option(
                names = "--revision",
                paramLabel = "N",
                description = "A revision other than the newest; needs --override.")
        Optional<Integer> revision;

        @Option(
                names = "--override",
                paramLabel = "REASON",
                description = "Hand it out although it does not fit; the reason is recorded in the journal.")
        Optional<String> override;

        @Option(names = "--dry-run", description = "Show what fits and what does not; prepare nothing.")
        boolean dryRun;

        @Override
        protected int run() {
            boolean one = labels.size() == 1 && team.isEmpty() && gateway.isEmpty() && !dryRun;
            if (!one && (override.isPresent() || revision.isPresent())) {
                throw CallFailure.of(ProblemCode.MALFORMED, "--override and --revision go with one profile");
            }
            return one ? one(labels.get(0)) : many();
        }

        private int one(String label) {
            HandoutApi.Prepared p = calls().post(
                            "/handouts",
                            new HandoutApi.Prepare(label, hours, collections, Optional.of(legacy), revision, override),
                            HandoutApi.Prepared.class);
            if (terminal.json) {
                terminal.json(p);
                return 0;
            }
            show(p);
            terminal.say("Send the link; tell the passphrase another way. Neither is shown again. The link works until "
                    + p.handout().expiresAt() + ".");
            terminal.say("  do: when both are sent   tender handout mark-sent " + label);
            return 0;
        }

        private void show(HandoutApi.Prepared p) {
            terminal.print("link        " + p.link().revealText(RevealSecret.TO_HAND_OUT));
            terminal.print("passphrase  " + p.passphrase().revealText(RevealSecret.TO_HAND_OUT));
        }

        private int many() {
            HandoutApi.PreparedMany done = calls().post(
                            "/handouts/many",
                            new HandoutApi.PrepareMany(
                                    labels.isEmpty() ? Optional.empty() : Optional.of(labels),
                                    gateway,
                                    team,
                                    hours,
                                    collections,
                                    Optional.of(legacy),
                                    Optional.of(dryRun)),
                            HandoutApi.PreparedMany.class);
            if (terminal.json) {
                terminal.json(done);
                return done.unfit().isEmpty() ? 0 : 1;
            }
            done.prepared().forEach(p -> {
                terminal.print(p.handout().profile());
                show(p);
            });
            if (dryRun) {
                done.fit().forEach(label -> terminal.print(label + "  fit"));
            }
            done.unfit().forEach(u -> {
                terminal.print(u.profile() + "  not fit");
                u.reasons()
                        .forEach(r -> terminal.print("    " + r.code() + ": " + r.words()
                                + (r.detail().isEmpty() ? "" : " " + r.detail()) + "  do: " + r.fix()));
            });
            terminal.say(done.fit().size() + (dryRun ? " would be prepared, " : " prepared, ")
                    + done.unfit().size() + " not fit");
            return done.unfit().isEmpty() ? 0 : 1;
        }
    }

    @Command(
            name = "mark-sent",
            mixinStandardHelpOptions = true,
            description = "Record that you have saved or sent both the link and the passphrase.")
    static final class MarkSent extends ClientCommand {
        @Parameters(paramLabel = "PROFILE")
        String label;

        @Override
        protected int run() {
            Calls calls = calls();
            HandoutApi.Handout h =
                    calls.post("/handouts/" + newest(calls, label).id() + "/sent", null, HandoutApi.Handout.class);
            terminal.say(h.profile() + " is " + h.state());
            return 0;
        }
    }

    @Command(
            name = "withdraw",
            mixinStandardHelpOptions = true,
            description =
                    "End all links of a profile, or one of them. A collected file keeps working; to stop it, withdraw the profile.",
            footer = {
                "",
                "  tender handout withdraw mara-phone-pier2",
                "  tender handout withdraw mara-phone-pier2 --handout ID"
            })
    static final class Withdraw extends ClientCommand {
        @Parameters(paramLabel = "PROFILE")
        String label;

        @Option(
                names = "--handout",
                paramLabel = "ID",
                description = "End this one only; tender handout list --json shows ids.")
        Optional<String> link;

        @Override
        protected int run() {
            Calls calls = calls();
            if (link.isPresent()) {
                calls.post("/handouts/" + link.get() + "/withdraw", null, HandoutApi.Handout.class);
                terminal.say("that link no longer works");
                return 0;
            }
            HandoutApi.LinksEnded ended =
                    calls.post("/handouts/withdraw", new HandoutApi.EndLinks(label), HandoutApi.LinksEnded.class);
            if (terminal.json) {
                terminal.json(ended);
            } else {
                terminal.say(
                        ended.links() == 0
                                ? "no link of " + label + " was open"
                                : ended.links() + (ended.links() == 1 ? " link" : " links") + " of " + label
                                        + " no longer " + (ended.links() == 1 ? "works" : "work"));
            }
            return 0;
        }
    }

    @Command(name = "list", mixinStandardHelpOptions = true, description = "List handouts, newest first.")
    static final class Ls extends ClientCommand {
        @Mixin
        WhoseOptions whose;

        @Option(names = "--limit", description = "How many. Default: 100")
        int limit = 100;

        @Option(
                names = "--sort",
                paramLabel = "COLUMN",
                description = "profile, person, prepared, collected or expires; --sort=-COLUMN puts the last first.")
        Optional<String> sort;

        @Override
        protected int run() {
            List<HandoutApi.Handout> all =
                    calls().list(whose.query("/handouts", Map.of("sort", sort)), HandoutApi.Handout.class, limit);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("PROFILE", "PERSON", "FILE", "STATE", "LEFT", "COLLECTED", "SHA-256"),
                        all.stream().map(HandoutCommands::row).toList(),
                        whose.isNarrowed()
                                ? "no handout fits"
                                : "nothing was handed out yet; prepare one: tender handout prepare PROFILE");
            }
            return 0;
        }
    }

    @Command(
            name = "show",
            mixinStandardHelpOptions = true,
            description = "Show the handouts of a profile, newest first.",
            footer = {"", "  tender handout show mara-phone-pier2"})
    static final class Show extends ClientCommand {
        @Parameters(paramLabel = "PROFILE")
        String profile;

        @Override
        protected int run() {
            Calls calls = calls();
            String label = Found.profile(calls, profile).label();
            List<HandoutApi.Handout> all = calls
                    .list(Calls.query("/handouts", Map.of("text", Optional.of(label))), HandoutApi.Handout.class, MOST)
                    .stream()
                    .filter(h -> h.profile().equals(label))
                    .toList();
            if (terminal.json) {
                terminal.json(all);
            } else if (all.isEmpty()) {
                terminal.say(label + " was not handed out yet: tender handout prepare " + label);
            } else {
                all.forEach(this::show);
            }
            return 0;
        }

        private void show(HandoutApi.Handout h) {
            terminal.print(h.profile() + ", revision " + h.revision() + ": " + h.state());
            terminal.print("  file       " + h.fileName() + ", SHA-256 " + h.digest());
            terminal.print("  prepared   " + Terminal.ago(h.preparedAt())
                    + h.sentAt().map(at -> ", sent " + Terminal.ago(at)).orElse(""));
            terminal.print("  collected  " + h.collectedAt().map(Terminal::ago).orElse("not yet") + "; "
                    + h.collectionsLeft() + " of " + h.collectionsAllowed() + " collections left");
            terminal.print("  link       works until " + h.expiresAt());
            terminal.print("  last seen  " + h.lastSeen().map(Terminal::ago).orElse("never"));
        }
    }

    @Command(
            name = "collect",
            mixinStandardHelpOptions = true,
            description =
                    "Collect a profile on this device with a link and its passphrase; no sign-in is needed. Tender asks for the link or reads it from a file descriptor.",
            footer = {"", "  tender handout collect --out ."})
    static final class Collect extends ClientCommand {
        @Option(names = "--out", description = "Folder to put the file in. Default: here")
        Path folder = Path.of(".");

        @Option(names = "--link-fd", paramLabel = "N", description = "Read the link from this file descriptor.")
        Optional<Integer> linkFd;

        @Option(
                names = "--passphrase-fd",
                paramLabel = "N",
                description = "Read the passphrase from this file descriptor.")
        Optional<Integer> passphraseFd;

        @Override
        protected int run() {
            String link = terminal.secret("link", linkFd)
                    .revealText(RevealSecret.TO_HAND_OUT)
                    .strip();
            int hash = link.indexOf("/#");
            if (hash < 1) {
                throw CallFailure.of(ProblemCode.MALFORMED, "that is not a whole link");
            }
            Secret passphrase = terminal.secret("passphrase", passphraseFd);
            String base = URI.create(link.substring(0, hash)).toString();
            HandoutApi.Collected c = Json.read(
                    new Calls(base, Optional.empty())
                            .send(
                                    "POST",
                                    "//collect",
                                    new HandoutApi.Collect(Secret.of(link.substring(hash + 2)), passphrase))
                            .body(),
                    HandoutApi.Collected.class);
            write(folder.resolve(c.fileName()), c.file());
            terminal.print(folder.resolve(c.fileName()).toString());
            for (HandoutApi.Part part : c.parts()) {
                Path target = folder.resolve(part.name()).normalize();
                if (!target.startsWith(folder.normalize())) {
                    throw CallFailure.of(ProblemCode.MALFORMED, "a part has a name that leads outside the folder");
                }
                makeFolder(target.getParent());
                write(
                        target,
                        Secret.of(Base64.getDecoder().decode(part.content().revealText(RevealSecret.TO_WRITE_FILE))));
                terminal.print(target.toString());
            }
            c.steps().forEach(step -> terminal.say("- " + step));
            return 0;
        }

        private static void makeFolder(Path wanted) {
            try {
                if (wanted != null) {
                    Files.createDirectories(wanted);
                }
            } catch (IOException e) {
                throw CallFailure.of(ProblemCode.CONFLICT, wanted + " cannot be made");
            }
        }

        private static void write(Path target, Secret content) {
            try {
                Files.createFile(
                        target, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
                Files.write(target, content.reveal(RevealSecret.TO_WRITE_FILE));
            } catch (IOException e) {
                throw CallFailure.of(
                        ProblemCode.CONFLICT,
                        target
                                + " cannot be written, or is there already; the file was collected but not kept, ask for another link");
            }
        }
    }
}
