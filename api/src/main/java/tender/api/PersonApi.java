package tender.api;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** People, teams and devices. */
public final class PersonApi {
    public record Team(String name, int people) {}

    /** @param name what the team is called from now on; its people and grants stay */
    public record SetTeam(String name) {}

    /** @param language of what is handed out, as an ISO 639 code; where missing, the browser's of whoever collects */
    public record AddPerson(
            String handle, String name, Optional<String> mail, Optional<String> team, Optional<String> language) {}

    /** @param csv a table with a header, or a directory's export (LDIF) */
    public record ImportPeople(String csv, Optional<Boolean> dryRun) {}

    /**
     * What a list changes, or would change.
     *
     * @param people and devices that are added
     * @param changes by line; what stays as it is, is counted only
     * @param gone handles of people who are not on the list; they stay
     */
    public record Imported(
            int people,
            int devices,
            int changed,
            int unchanged,
            List<ImportedLine> changes,
            List<String> gone,
            boolean dryRun) {}

    /**
     * @param device empty where the person is meant
     * @param state added or changed
     * @param fields what changes
     */
    public record ImportedLine(int line, String handle, String device, String state, List<String> fields) {}

    /** What is missing stays. {@code language} is an ISO 639 code, or empty for the browser's of whoever collects. */
    public record SetPerson(
            Optional<String> handle,
            Optional<String> name,
            Optional<String> mail,
            Optional<String> team,
            Optional<String> language) {}

    public record Person(
            String id,
            String handle,
            String name,
            String mail,
            Optional<String> team,
            Optional<String> language,
            int deviceCount,
            List<Device> devices,
            List<ProfileApi.Profile> profiles,
            Instant createdAt,
            int version) {}

    /** A language in which staff can be given what they read: its ISO 639 code, and its own name for itself. */
    public record Language(String code, String name) {}

    public record AddDevice(String name, String kind, Optional<String> system) {}

    /** What is missing stays. */
    public record SetDevice(Optional<String> name, Optional<String> kind, Optional<String> system) {}

    public record Device(String id, String name, String kind, String system) {}

    private PersonApi() {}
}
