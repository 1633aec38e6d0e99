package tender.core.person;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import tender.core.wire.MalformedException;

/**
 * People in a directory's export (LDIF, RFC 2849): entries whose object class is a person's (RFC 2798, RFC 4519) and no computer's.
 * Other entries, other attributes and a version line are passed over; an entry that changes something is refused.
 */
final class LdifPeople {
    private static final Set<String> PEOPLE =
            Set.of("person", "organizationalperson", "inetorgperson", "user", "posixaccount");

    private LdifPeople() {}

    /** Whether the first line that says something names an entry, or the version of the format. */
    static boolean looksLike(String[] lines) {
        return Stream.of(lines)
                .filter(l -> !l.isBlank() && !l.startsWith("#"))
                .findFirst()
                .filter(l -> l.matches("(?i)(version:\\s*[0-9]+\\s*|dn::?\\s.*)"))
                .isPresent();
    }

    static List<PeopleList.Line> read(String[] lines) {
        List<PeopleList.Line> out = new ArrayList<>();
        Map<String, List<String>> entry = new HashMap<>();
        int began = 1;
        for (int i = 0; i <= lines.length; i++) {
            if (i == lines.length || lines[i].isBlank()) {
                int number = began;
                Map<String, List<String>> read = entry;
                person(number, read).ifPresent(out::add);
                entry = new HashMap<>();
                began = i + 2;
            } else if (!lines[i].startsWith("#") && !lines[i].startsWith(" ")) {
                StringBuilder whole = new StringBuilder(lines[i]);
                for (int next = i + 1; next < lines.length && lines[next].startsWith(" "); next++) {
                    whole.append(lines[next].substring(1)); // folded, RFC 2849 note 2
                }
                attribute(i + 1, whole.toString(), entry);
            }
        }
        if (out.isEmpty()) {
            throw new MalformedException("ldif", "line 1", "no entry is a person's");
        }
        return out;
    }

    private static void attribute(int number, String line, Map<String, List<String>> into) {
        int colon = line.indexOf(':');
        if (colon < 1) {
            throw new MalformedException("ldif", "line " + number, "a line is ATTRIBUTE: VALUE");
        }
        String name = line.substring(0, colon).toLowerCase(Locale.ROOT).replaceFirst(";.*", "");
        String rest = line.substring(colon + 1);
        if (name.equals("changetype")) {
            throw new MalformedException(
                    "ldif", "line " + number, "the file changes a directory; export its entries instead");
        }
        into.computeIfAbsent(name, n -> new ArrayList<>()).add(value(number, rest));
    }

    private static String value(int number, String rest) {
        if (rest.startsWith("<")) {
            return ""; // of a URL, which is not followed
        }
        if (!rest.startsWith(":")) {
            return rest.strip();
        }
        try {
            return new String(Base64.getDecoder().decode(rest.substring(1).strip()), StandardCharsets.UTF_8);
        } catch (IllegalArgumentException e) {
            throw new MalformedException("ldif", "line " + number, "the value is not base64");
        }
    }

    private static Optional<PeopleList.Line> person(int number, Map<String, List<String>> entry) {
        List<String> classes = entry.getOrDefault("objectclass", List.of()).stream()
                .map(c -> c.toLowerCase(Locale.ROOT))
                .toList();
        if (classes.stream().noneMatch(PEOPLE::contains) || classes.contains("computer")) {
            return Optional.empty();
        }
        Optional<String> handle =
                first(entry, "uid", "samaccountname", "mail", "cn").map(PeopleList::handle);
        Map<String, String> values = new HashMap<>();
        values.put("handle", handle.orElse(""));
        first(entry, "displayname", "cn", "uid").ifPresent(v -> values.put("name", v));
        first(entry, "mail").ifPresent(v -> values.put("mail", v));
        first(entry, "departmentnumber", "department", "ou")
                .map(PeopleList::handle)
                .ifPresent(v -> values.put("team", v));
        try {
            return Optional.of(PeopleList.line(number, values));
        } catch (MalformedException e) {
            throw e.at("entry in line " + number);
        }
    }

    private static Optional<String> first(Map<String, List<String>> entry, String... names) {
        return Stream.of(names)
                .flatMap(n -> entry.getOrDefault(n, List.of()).stream())
                .filter(v -> !v.isBlank())
                .findFirst();
    }
}
