package tender.client.person;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.PersonApi;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.RemoveCommand;
import tender.client.profile.ProfileCommands;

/** People. */
final class PersonCommands {
    private static final String LANGUAGE =
            "Language of what this person is given, such as en or de. Default: the language of their browser.";

    private PersonCommands() {}

    @Command(
            name = "add",
            mixinStandardHelpOptions = true,
            description = "Add a person.",
            footer = {"", "  tender person add mara --name \"Mara Quillfeather\" --team masters"})
    static final class Add extends ClientCommand {
        @Parameters(paramLabel = "HANDLE", description = "A short name, used in labels and file names.")
        String handle;

        @Option(names = "--name", required = true)
        String name;

        @Option(names = "--mail")
        Optional<String> mail;

        @Option(names = "--team")
        Optional<String> team;

        @Option(names = "--language", description = LANGUAGE)
        Optional<String> language;

        @Override
        protected int run() {
            PersonApi.Person p = calls().post(
                            "/people",
                            new PersonApi.AddPerson(handle, name, mail, team, language),
                            PersonApi.Person.class);
            if (terminal.json) {
                terminal.json(p);
            } else {
                terminal.say(p.handle() + " was added");
                terminal.say("  do: tender device add " + p.handle() + " phone --kind phone");
            }
            return 0;
        }
    }

    @Command(
            name = "set",
            mixinStandardHelpOptions = true,
            description = "Change a person's handle, name, mail address, team or language.",
            footer = {
                "",
                "  tender person set mara --team masters --language de",
                "  tender person set mara --mail \"\" --team \"\"    (an empty value removes it)"
            })
    static final class Put extends ClientCommand {
        @Parameters(paramLabel = "HANDLE")
        String handle;

        @Option(
                names = "--handle",
                paramLabel = "NEW",
                description = "The handle from now on. Labels of profiles that were issued stay.")
        Optional<String> newHandle;

        @Option(names = "--name")
        Optional<String> name;

        @Option(names = "--mail")
        Optional<String> mail;

        @Option(names = "--team")
        Optional<String> team;

        @Option(names = "--language", description = LANGUAGE)
        Optional<String> language;

        @Override
        protected int run() {
            if (Stream.of(newHandle, name, mail, team, language).allMatch(Optional::isEmpty)) {
                throw CallFailure.of(
                        ProblemCode.MALFORMED,
                        "nothing to change: give --handle, --name, --mail, --team or --language");
            }
            PersonApi.Person before = calls().get("/people/" + handle, PersonApi.Person.class);
            PersonApi.Person p = calls().patch(
                            "/people/" + handle,
                            new PersonApi.SetPerson(newHandle, name, mail, team, language),
                            Integer.toString(before.version()),
                            PersonApi.Person.class);
            if (terminal.json) {
                terminal.json(p);
            } else {
                terminal.say(p.handle() + " was changed");
            }
            return 0;
        }
    }

    @Command(
            name = "import",
            mixinStandardHelpOptions = true,
            description = {
                "Import people and devices from a table (CSV, or copied from a spreadsheet) or a directory's export (LDIF); all or"
                        + " nothing. People and devices that are there are changed where the list says otherwise, and nobody is"
                        + " removed: import the list again whenever it changes.",
                "The header has name, and any of handle, mail, team, device, kind and system. Without a handle, it is made of the mail"
                        + " address or the name. Without a header, the columns are name, mail, team and device."
            },
            footer = {"", "  tender person import people.csv --dry-run", "  tender person import directory.ldif"})
    static final class Bring extends ClientCommand {
        @Parameters(paramLabel = "FILE")
        Path file;

        @Option(names = "--dry-run", description = "Check the list; write nothing.")
        boolean dryRun;

        @Override
        protected int run() {
            String csv;
            try {
                csv = Files.readString(file);
            } catch (IOException e) {
                throw CallFailure.of(ProblemCode.MALFORMED, "the list cannot be read as UTF-8 text");
            }
            PersonApi.Imported done = calls().post(
                            "/people/import",
                            new PersonApi.ImportPeople(csv, Optional.of(dryRun)),
                            PersonApi.Imported.class);
            if (terminal.json) {
                terminal.json(done);
            } else {
                for (PersonApi.ImportedLine c : done.changes()) {
                    terminal.print("line " + c.line() + "  " + c.state() + "  " + c.handle()
                            + (c.device().isEmpty() ? "" : "/" + c.device())
                            + (c.fields().isEmpty() ? "" : ": " + String.join(", ", c.fields())));
                }
                if (!done.gone().isEmpty()) {
                    terminal.print("not on the list, and left as they are: " + String.join(", ", done.gone()));
                }
                terminal.print((done.people() == 1 ? "1 person" : done.people() + " people") + " and "
                        + (done.devices() == 1 ? "1 device" : done.devices() + " devices") + " added, " + done.changed()
                        + " changed, " + done.unchanged() + " unchanged"
                        + (done.dryRun() ? "; nothing was kept" : ""));
            }
            return 0;
        }
    }

    @Command(name = "list", mixinStandardHelpOptions = true, description = "List people.")
    static final class Ls extends ClientCommand {
        @Option(names = "--text", description = "A part of name, handle or mail address.")
        Optional<String> text;

        @Option(names = "--team", description = "Of this team.")
        Optional<String> team;

        @Option(
                names = "--sort",
                paramLabel = "COLUMN",
                description = "name, handle, team, mail or devices; --sort=-COLUMN puts the last first.")
        Optional<String> sort;

        @Override
        protected int run() {
            List<PersonApi.Person> all = calls().list(
                            Calls.query("/people", Map.of("text", text, "team", team, "sort", sort)),
                            PersonApi.Person.class,
                            100_000);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("HANDLE", "NAME", "TEAM", "DEVICES", "MAIL"),
                        all.stream()
                                .map(p -> List.of(
                                        p.handle(),
                                        p.name(),
                                        p.team().orElse(""),
                                        Integer.toString(p.deviceCount()),
                                        p.mail()))
                                .toList(),
                        text.isPresent() || team.isPresent()
                                ? "nobody fits"
                                : "no people yet; add one: tender person add HANDLE --name NAME, or bring in a list: tender person import FILE");
            }
            return 0;
        }
    }

    @Command(name = "show", mixinStandardHelpOptions = true, description = "Show a person with devices and profiles.")
    static final class Show extends ClientCommand {
        @Parameters(paramLabel = "HANDLE")
        String handle;

        @Override
        protected int run() {
            PersonApi.Person p = calls().get("/people/" + handle, PersonApi.Person.class);
            if (terminal.json) {
                terminal.json(p);
                return 0;
            }
            terminal.print(p.name() + " (" + p.handle() + ")"
                    + p.team().map(t -> ", " + t).orElse("") + (p.mail().isEmpty() ? "" : ", " + p.mail()));
            p.devices()
                    .forEach(d -> terminal.print("  device   " + d.name() + ": " + d.kind()
                            + (d.system().isEmpty() ? "" : ", " + d.system())));
            p.profiles().forEach(q -> terminal.print("  profile  " + String.join(", ", ProfileCommands.row(q))));
            return 0;
        }
    }

    @Command(
            name = "remove",
            mixinStandardHelpOptions = true,
            description = "Remove a person and their devices. Their profiles have to be withdrawn first.",
            footer = {"", "  tender person remove mara --dry-run"})
    static final class Remove extends RemoveCommand {
        @Parameters(paramLabel = "HANDLE")
        String handle;

        @Override
        protected String path(Calls calls) {
            return "/people/" + handle;
        }
    }
}
