package tender.client.command;

import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import picocli.CommandLine.Option;

/** Narrows lists of what concerns profiles. */
public final class WhoseOptions {
    @Option(names = "--text", description = "A part of the profile's label, or of the person's name.")
    Optional<String> text;

    @Option(names = "--gateway", description = "At this gateway.")
    Optional<String> gateway;

    @Option(names = "--person", description = "Of this person, by handle.")
    Optional<String> person;

    @Option(names = "--team", description = "Of this team.")
    Optional<String> team;

    /** The path with what was asked for, and more of its own. */
    public String query(String path, Map<String, Optional<String>> more) {
        Map<String, Optional<String>> all = new HashMap<>(more);
        all.put("text", text);
        all.put("gateway", gateway);
        all.put("person", person);
        all.put("team", team);
        return Calls.query(path, all);
    }

    public boolean isNarrowed() {
        return Stream.of(text, gateway, person, team).anyMatch(Optional::isPresent);
    }
}
