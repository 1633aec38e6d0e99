package tender.core.office;

/** What has to be started anew for a change to take effect, mildest first, and who is cut by it. */
public enum Restart {
    NONE("nothing restarts", false),
    RELOAD("the device takes its files up; whoever is connected stays connected", false),
    LISTENER("the listener starts anew; everyone connected through it is cut for a moment", true),
    DEVICE("the device starts anew; everyone connected through it is cut", true);

    private final String words;
    private final boolean cuts;

    Restart(String words, boolean cuts) {
        this.words = words;
        this.cuts = cuts;
    }

    public String words() {
        return words;
    }

    public boolean cuts() {
        return cuts;
    }

    public Restart or(Restart other) {
        return compareTo(other) >= 0 ? this : other;
    }
}
