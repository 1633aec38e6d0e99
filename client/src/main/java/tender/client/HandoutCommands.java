package tender.client;

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
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.HandoutApi;
import tender.api.ProblemCode;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;

/** Handouts. */
final class HandoutCommands {
    private HandoutCommands() {}

    private static HandoutApi.Handout newest(Calls calls, String label) {
        return calls
                .list("/handouts?profile=" + ProfileCommands.find(calls, label).id(), HandoutApi.Handout.class, 1)
                .stream()
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
                    "Prepare a link and a passphrase for a profile's newest revision, or for every profile of a team or gateway that nobody was handed yet. Both are shown once. What is not fit is not handed out; the reasons are named.",
            footer = {
                "",
                "  tender handout prepare mara-phone-pier2 --hours 24 --collections 1",
                "  tender handout prepare --team masters --gateway pier2 --dry-run",
                "  tender handout prepare mara-phone-pier2 --override 'the name is entered tonight'",
                "",
                "Exit code 1 where something is not fit to be handed out."
            })
    static final class Prepare extends Verb {
        @Parameters(paramLabel = "PROFILE", arity = "0..*")
        List<String> labels = List.of();

        @Option(names = "--team", description = "Every profile of this team whose newest revision nobody was handed.")
        Optional<String> team;

        @Option(names = "--gateway", description = "The same of this gateway.")
        Optional<String> gateway;

        @Option(names = "--hours", description = "How long the link works. Default: 72")
        Optional<Integer> hours;

        @Option(names = "--collections", description = "How often it can be collected. Default: 1")
        Optional<Integer> collections;

        @Option(
                names = "--legacy",
                description =
                        "Lock a key store in it as systems from before about 2019 want it: weaker, and only for those.")
        boolean legacy;

        @Option(names = "--revision", paramLabel = "N", description = "Another than the newest; needs --override.")
        Optional<Integer> revision;

        @Option(
                names = "--override",
                paramLabel = "REASON",
                description = "Hand it out although it is not fit; the reason goes into the journal.")
        Optional<String> override;

        @Option(names = "--dry-run", description = "Say what is fit and what is not; prepare nothing.")
        boolean dryRun;

        @Override
        int run() {
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
            terminal.say("  do: when both are sent   tender handout sent " + label);
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
            name = "sent",
            mixinStandardHelpOptions = true,
            description = "Note that link and passphrase are kept and on their two ways.")
    static final class Sent extends Verb {
        @Parameters(paramLabel = "PROFILE")
        String label;

        @Override
        int run() {
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
                    "End all links of a profile at once, or one. A file already collected goes on working: withdraw the profile for that.",
            footer = {
                "",
                "  tender handout withdraw mara-phone-pier2",
                "  tender handout withdraw mara-phone-pier2 --handout ID"
            })
    static final class Withdraw extends Verb {
        @Parameters(paramLabel = "PROFILE")
        String label;

        @Option(
                names = "--handout",
                paramLabel = "ID",
                description = "End this one only; tender handout list --json shows ids.")
        Optional<String> link;

        @Override
        int run() {
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

    @Command(name = "list", mixinStandardHelpOptions = true, description = "Handouts, newest first.")
    static final class Ls extends Verb {
        @Option(names = "--text", description = "A part of the profile's label, or of the person's name.")
        Optional<String> text;

        @Option(names = "--limit", description = "How many. Default: 100")
        int limit = 100;

        @Override
        int run() {
            List<HandoutApi.Handout> all =
                    calls().list(Calls.query("/handouts", Map.of("text", text)), HandoutApi.Handout.class, limit);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("PROFILE", "PERSON", "FILE", "STATE", "LEFT", "COLLECTED", "SHA-256"),
                        all.stream().map(HandoutCommands::row).toList(),
                        text.isPresent()
                                ? "no handout fits"
                                : "nothing was handed out yet; prepare one: tender handout prepare PROFILE");
            }
            return 0;
        }
    }

    @Command(
            name = "collect",
            mixinStandardHelpOptions = true,
            description =
                    "Collect a file on this device with a link and its passphrase; no sign-in needed. The link is read from a file descriptor or asked for.",
            footer = {"", "  tender handout collect --out ."})
    static final class Collect extends Verb {
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
        int run() {
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
