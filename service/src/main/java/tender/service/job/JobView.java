package tender.service.job;

import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.api.WatchApi;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.References;

/** Jobs as the API shows them, with the names of what they are about. */
public final class JobView {
    private JobView() {}

    /** Empty where there is no such job. */
    public static Optional<WatchApi.Job> of(Tx tx, UUID id) {
        return Jobs.byId(tx, id).map(job -> of(tx, List.of(job)).get(0));
    }

    static List<WatchApi.Job> of(Tx tx, List<Jobs.Job> jobs) {
        Set<UUID> ids = new HashSet<>();
        jobs.forEach(job -> id(about(job)).ifPresent(ids::add));
        Map<String, String> names = References.names(tx, ids);
        return jobs.stream()
                .map(job -> new WatchApi.Job(
                        job.id().toString(),
                        job.kind(),
                        Optional.ofNullable(names.get(about(job))),
                        job.state().word(),
                        job.progress(),
                        job.note(),
                        job.attempts(),
                        job.createdAt(),
                        job.endedAt()))
                .toList();
    }

    /** {@code KIND:ID}, or anything else for what has no name. */
    private static String about(Jobs.Job job) {
        String key = job.serialKey().orElse("");
        return key.startsWith("trial:") ? "trial:" + job.payload() : key;
    }

    private static Optional<UUID> id(String reference) {
        try {
            return Optional.of(UUID.fromString(reference.substring(reference.indexOf(':') + 1)));
        } catch (IllegalArgumentException e) {
            return Optional.empty();
        }
    }
}
