package tender.core.trial;

/**
 * What answered where the file itself got no answer, when something else was tried.
 *
 * @param words what was done otherwise, or what came back, such as "over tcp" or "SSH-2.0-OpenSSH_9.2"
 */
public record Otherwise(Kind kind, String words) {
    /** What was tried otherwise. */
    public enum Kind {
        /** The same over the other transport. */
        TRANSPORT,
        /** The same key in another direction. */
        DIRECTION,
        /** The same key with another digest. */
        DIGEST,
        /** The same key, used as the other type of control-channel key, or no control-channel key at all. */
        CONTROL_CHANNEL_KEY,
        /** What answers speaks something else. */
        SERVICE
    }
}
