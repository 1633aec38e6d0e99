package tender.api;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** People, teams and devices. */
public final class PersonApi {
    public record Team(String name, int people) {}

    public record AddPerson(String handle, String name, Optional<String> mail, Optional<String> team) {}

    public record ImportPeople(String csv, Optional<Boolean> dryRun) {}

    public record Imported(int people, int devices, boolean dryRun) {}

    public record SetPerson(Optional<String> name, Optional<String> mail, Optional<String> team) {}

    public record Person(
            String id,
            String handle,
            String name,
            String mail,
            Optional<String> team,
            int deviceCount,
            List<Device> devices,
            List<ProfileApi.Profile> profiles,
            Instant createdAt,
            int version) {}

    public record AddDevice(String name, String kind, Optional<String> system) {}

    public record Device(String id, String name, String kind, String system) {}

    private PersonApi() {}
}
