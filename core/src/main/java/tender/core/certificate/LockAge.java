package tender.core.certificate;

/** Whether current programs, as those on OpenSSL 3, open what is locked in a way. */
public enum LockAge {
    CURRENT,
    /** They do, and it can be broken with effort. */
    OLD,
    /** They do not, unless they load what they keep for old files. */
    REFUSED
}
