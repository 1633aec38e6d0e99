package tender.client;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.InspectApi;
import tender.api.ProblemCode;
import tender.core.credential.RevealSecret;
import tender.core.inspect.Inspector;

/** Looks into files, without a service. */
@Command(
        name = "inspect",
        mixinStandardHelpOptions = true,
        description = "Say what a file is, where it leads, and what is wrong with it. Works offline; nothing is kept.",
        footer = {
            "",
            "  tender profile inspect office.ovpn",
            "  tender profile inspect bundle-from-the-nas.tar.gz --json",
            "  tender profile inspect mara.p12 --passphrase-fd 3 3<passphrase",
            "",
            "Exit code 1 where something breaks the file or makes it dangerous."
        })
final class InspectCommand extends Verb {
    @Parameters(paramLabel = "FILE", arity = "1..*")
    List<Path> files;

    @Option(
            names = "--passphrase-fd",
            paramLabel = "N",
            description = "Read the passphrase of a locked key or key store from this file descriptor.")
    Optional<Integer> passphraseFd;

    @Override
    int run() {
        Optional<String> passphrase = passphraseFd.map(
                fd -> terminal.secret("passphrase", Optional.of(fd)).revealText(RevealSecret.TO_COMPARE));
        List<InspectApi.Report> all = new ArrayList<>();
        for (Path file : files) {
            all.add(InspectApi.Report.of(
                    Inspector.of(file.getFileName().toString(), read(file), Instant.now(), passphrase)));
        }
        if (terminal.json) {
            terminal.json(all);
        } else {
            for (int i = 0; i < all.size(); i++) {
                if (i > 0) {
                    terminal.print("");
                }
                all.get(i).files().forEach(this::show);
            }
        }
        return all.stream().anyMatch(InspectCommand::breaks) ? 1 : 0;
    }

    private static byte[] read(Path file) {
        try {
            if (Files.size(file) > Inspector.MAX_BYTES) {
                throw CallFailure.of(ProblemCode.MALFORMED, file + " is over 32 MiB");
            }
            return Files.readAllBytes(file);
        } catch (IOException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, file + " cannot be read");
        }
    }

    private static boolean breaks(InspectApi.Report report) {
        return report.files().stream()
                .flatMap(i -> i.notes().stream())
                .anyMatch(n -> n.severity().equals("breaks"));
    }

    private void show(InspectApi.Inspection i) {
        String indent = "  ".repeat(i.depth());
        terminal.print(indent + i.name() + "  " + i.title());
        for (InspectApi.Fact f : i.facts()) {
            terminal.print(String.format("%s  %-22s %s", indent, f.label(), f.value()));
        }
        for (InspectApi.Note n : i.notes()) {
            String where = n.line() == 0 ? "" : "line " + n.line() + ": ";
            String detail = n.detail().isEmpty() ? "" : " (" + n.detail() + ")";
            terminal.print(indent + "  " + mark(n.severity()) + " " + where + n.says() + detail);
            if (!n.severity().equals("note")) {
                terminal.print(indent + "           " + n.remedy());
            }
        }
        i.problems().forEach(p -> terminal.print(indent + "  unread   " + p));
    }

    private String mark(String severity) {
        return switch (severity) {
            case "breaks" -> terminal.colour(31, "breaks  ");
            case "risks" -> terminal.colour(33, "risks   ");
            default -> "note    ";
        };
    }
}
