package tender.service.job;

import java.time.Duration;
import java.util.List;
import tender.api.ProblemCode;
import tender.api.WatchApi;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.job.Jobs;

/** Asking how far a job is, and ending it. */
public final class JobRoutes {
    /** How long ended jobs are kept. */
    public static final Duration KEEP = Duration.ofDays(30);

    private JobRoutes() {}

    public static List<Route> of(Db db) {
        return List.of(
                Route.page(
                        "/jobs",
                        Role.READERS,
                        "Time-taking work, newest first",
                        WatchApi.Job.class,
                        call -> Cursor.newestFirst(
                                call,
                                (before, limit) -> db.inTransaction(tx -> Jobs.page(tx, before, limit)),
                                Jobs.Job::id,
                                jobs -> jobs.stream().map(JobRoutes::render).toList())),
                Route.get(
                        "/jobs/{id}",
                        Role.READERS,
                        "One job",
                        WatchApi.Job.class,
                        call -> Answer.ok(db.inTransaction(tx -> Jobs.byId(tx, call.id()))
                                .map(JobRoutes::render)
                                .orElseThrow(() -> ApiFailure.notFound("job")))),
                Route.post(
                        "/jobs/{id}/cancel",
                        Role.WRITERS,
                        "End a job: at once while it waits, else when it next looks",
                        null,
                        null,
                        call -> {
                            boolean cancelled = db.inTransaction(tx -> {
                                Events.say(tx, "job", call.id().toString());
                                return Jobs.cancel(tx, call.id());
                            });
                            if (!cancelled) {
                                throw new ApiFailure(
                                        ProblemCode.CONFLICT, "the job has ended already, or is not there");
                            }
                            return Answer.done();
                        }));
    }

    public static WatchApi.Job render(Jobs.Job job) {
        return new WatchApi.Job(
                job.id().toString(),
                job.kind(),
                job.state(),
                job.progress(),
                job.note(),
                job.attempts(),
                job.createdAt(),
                job.endedAt());
    }
}
