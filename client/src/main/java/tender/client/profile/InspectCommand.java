package tender.client.profile;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.InspectApi;
import tender.client.command.ClientCommand;
import tender.client.command.LocalFiles;
import tender.client.trial.FileTrial;
import tender.core.credential.RevealSecret;
import tender.core.inspect.Inspector;

/** Looks into files, without a service. */
@Command(
        name = "inspect",
        mixinStandardHelpOptions = true,
        description = {
            "Inspect files: what they are, where they connect, and what is wrong. Works offline; nothing is kept.",
            "Files that are given together can refer to each other as certificate, key or revocation list.",
            "Files that a profile refers to are also found in the same folder."
        },
        footer = {
            "",
            "  tender profile inspect office.ovpn",
            "  tender profile inspect office.ovpn ca.crt mara.crt mara.key",
            "  tender profile inspect clients/ --json",
            "  tender profile inspect mara.p12 --passphrase-fd 3 3<passphrase",
            "",
            "The last line is the verdict: usable, usable after ..., not usable because ..., dangerous, or not known.",
            "Exit code 0 if every file is usable, 1 if not."
        })
final class InspectCommand extends ClientCommand {
    private static final long MAX_BYTES = 256L * 1024 * 1024;
    private static final int FEW_NOTES = 12;
    private static final int FEW_PARTS = 40;
    private static final int FEW_LETTERS = 300;

    @Parameters(paramLabel = "FILE|FOLDER", arity = "1..*")
    List<Path> paths;

    @Option(names = "--all", description = "Show every line of long lists.")
    boolean all;

    @Option(
            names = "--passphrase-fd",
            paramLabel = "N",
            description = "Read the passphrase of a locked key or key store from this file descriptor.")
    Optional<Integer> passphraseFd;

    @Override
    protected int run() {
        Optional<String> passphrase = passphraseFd.map(
                fd -> terminal.secret("passphrase", Optional.of(fd)).revealText(RevealSecret.TO_COMPARE));
        Map<String, byte[]> files = LocalFiles.read(paths, MAX_BYTES);
        Map<String, byte[]> companions = new LinkedHashMap<>();
        paths.stream()
                .filter(p -> !Files.isDirectory(p))
                .forEach(p -> companions.putAll(
                        FileTrial.beside(p, new String(LocalFiles.read(p), StandardCharsets.ISO_8859_1))));
        InspectApi.Report report = InspectApi.Report.of(Inspector.all(files, companions, Instant.now(), passphrase));
        if (terminal.json) {
            terminal.json(report);
        } else {
            show(report);
        }
        return report.verdict().verdict().equals("usable") ? 0 : 1;
    }

    private void show(InspectApi.Report report) {
        List<InspectApi.Inspection> files = report.files();
        int shown = all ? files.size() : Math.min(files.size(), FEW_PARTS);
        for (int i = 0; i < shown; i++) {
            if (i > 0 && files.get(i).depth() == 0) {
                terminal.print("");
            }
            show(files.get(i));
        }
        if (shown < files.size()) {
            terminal.print("");
            terminal.print("… and " + (files.size() - shown) + " more files; --all shows them");
        }
        terminal.print("");
        terminal.print(coloured(report.verdict()));
    }

    private String coloured(InspectApi.Verdict verdict) {
        return switch (verdict.verdict()) {
            case "usable" -> terminal.colour(32, verdict.words());
            case "dangerous", "not-usable" -> terminal.colour(31, verdict.words());
            default -> terminal.colour(33, verdict.words());
        };
    }

    private void show(InspectApi.Inspection i) {
        String indent = "  ".repeat(i.depth());
        terminal.print(indent + i.name() + "  " + i.title());
        for (InspectApi.Fact f : i.facts()) {
            terminal.print(String.format("%s  %-22s %s", indent, f.label(), cut(f.value())));
        }
        int shown = all ? i.notes().size() : Math.min(i.notes().size(), FEW_NOTES);
        i.notes().subList(0, shown).forEach(n -> show(indent, n));
        if (shown < i.notes().size()) {
            String rest = i.notes().subList(shown, i.notes().size()).stream()
                    .collect(Collectors.groupingBy(
                            InspectApi.Note::severity, java.util.TreeMap::new, Collectors.counting()))
                    .entrySet()
                    .stream()
                    .map(e -> e.getValue() + " " + e.getKey())
                    .collect(Collectors.joining(", "));
            terminal.print(indent + "  … and " + (i.notes().size() - shown) + " more: " + rest + "; --all shows them");
        }
    }

    private void show(String indent, InspectApi.Note n) {
        String where = n.line() == 0 ? "" : "line " + n.line() + ": ";
        String detail = n.detail().isEmpty() ? "" : " (" + n.detail() + ")";
        terminal.print(indent + "  " + mark(n.severity()) + " " + where + n.says() + detail);
        terminal.print(indent + "           " + n.remedy());
    }

    private String cut(String value) {
        return all || value.length() <= FEW_LETTERS ? value : value.substring(0, FEW_LETTERS) + "…";
    }

    private String mark(String severity) {
        return switch (severity) {
            case "error" -> terminal.colour(31, "error   ");
            case "warning" -> terminal.colour(33, "warning ");
            default -> "notice  ";
        };
    }
}
