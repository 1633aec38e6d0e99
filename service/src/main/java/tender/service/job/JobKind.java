package tender.service.job;

import tender.store.job.Jobs;

/** Work of one kind; safe to run twice, since a killed node's jobs are run again. */
public interface JobKind {
    String name();

    /** Whose threads it runs on. */
    default Lane lane() {
        return Lane.UPKEEP;
    }

    void run(Jobs.Job job, Progress progress);

    /** Called once when the last attempt has failed. */
    default void gaveUp(Jobs.Job job, String why) {}

    /** How a running job says how far it is, and learns that it is to stop. */
    interface Progress extends Steps {
        boolean cancelWanted();
    }
}
