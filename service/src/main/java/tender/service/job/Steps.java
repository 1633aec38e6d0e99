package tender.service.job;

/** Hears how far time-taking work is. */
@FunctionalInterface
public interface Steps {
    /** For work that nobody follows. */
    Steps UNHEARD = (percent, note) -> {};

    /** @param percent 0 to 100 */
    void at(int percent, String note);
}
