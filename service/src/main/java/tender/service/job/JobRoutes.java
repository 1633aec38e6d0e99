package tender.service.job;

import java.time.Duration;
import java.util.List;
import java.util.UUID;
import java.util.function.Supplier;
import tender.api.ProblemCode;
import tender.api.WatchApi;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Slice;
import tender.store.job.JobState;
import tender.store.job.Jobs;

/** Asking how far a job is, and ending it. */
public final class JobRoutes {
    /** How long a call waits; shorter than what any client waits for an answer. */
    private static final Duration LONGEST_WAIT = Duration.ofSeconds(50);

    private JobRoutes() {}

    /**
     * An answer that comes when a job has done its work; the problem that it ended with where it failed.
     *
     * @param who whom it takes time to reach, for saying so
     */
    public static Answer.Later whenDone(JobWaits waits, UUID jobId, String who, Supplier<Answer> done) {
        return new Answer.Later(waits.ended(jobId, LONGEST_WAIT).thenApply(job -> {
            if (job.state() != JobState.DONE) {
                throw new ApiFailure(
                        job.problem().map(ProblemCode::ofWord).orElse(ProblemCode.GATEWAY_UNREACHABLE),
                        job.note().isEmpty() ? who + " takes long; the work goes on" : job.note());
            }
            return done.get();
        }));
    }

    public static List<Route> of(Db db) {
        return List.of(
                Route.page(
                        "/jobs",
                        Role.READERS,
                        "Time-taking work, newest first; ?state= waiting, running, done, failed or cancelled, ?kind= such as read-gateway",
                        WatchApi.Job.class,
                        call -> Cursor.newestFirst(
                                call,
                                (before, limit) -> db.inTransaction(tx -> Jobs.page(
                                        tx, call.query("state"), call.query("kind"), Slice.after(before, limit))),
                                Jobs.Job::id,
                                jobs -> db.inTransaction(tx -> JobView.of(tx, jobs)))),
                Route.get(
                        "/jobs/{id}",
                        Role.READERS,
                        "One job",
                        WatchApi.Job.class,
                        call -> Answer.ok(db.inTransaction(tx -> JobView.of(tx, call.id()))
                                .orElseThrow(() -> ApiFailure.notFound("job")))),
                Route.post(
                        "/jobs/{id}/cancel",
                        Role.WRITERS,
                        "End a job: at once while it waits, else when it next looks",
                        null,
                        null,
                        call -> {
                            boolean cancelled = db.inTransaction(tx -> {
                                Events.say(tx, "job", call.id());
                                return Jobs.cancel(tx, call.id());
                            });
                            if (!cancelled) {
                                throw new ApiFailure(
                                        ProblemCode.CONFLICT, "the job has ended already, or is not there");
                            }
                            return Answer.done();
                        }));
    }
}
