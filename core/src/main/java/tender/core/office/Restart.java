package tender.core.office;

/** What has to restart for a change to take effect, mildest first, and who is disconnected by it. */
public enum Restart {
    NONE("nothing restarts", false),
    RELOAD("the device reloads its files; nobody is disconnected", false),
    LISTENER("the listener restarts; everyone connected through it is disconnected for a moment", true),
    DEVICE("the device restarts; everyone connected through it is disconnected", true);

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
