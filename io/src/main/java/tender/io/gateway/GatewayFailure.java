package tender.io.gateway;

import tender.io.IoFailure;

/** A gateway could not be read or changed; the kind says what a caller can do about it. */
public final class GatewayFailure extends IoFailure {
    private static final long serialVersionUID = 1L;

    /** What went wrong. */
    public enum Kind {
        /** No connection: the device is off or the address is wrong. */
        UNREACHABLE,
        /** The address may not be called on a person's behalf. */
        FORBIDDEN_ADDRESS,
        /** The device shows another host key than the accepted one. */
        IDENTITY_CHANGED,
        /** The device refuses the user or key. */
        REFUSED,
        /** The key given is not a private key that can be read. */
        BAD_KEY,
        /** Somebody else holds the device's lock. */
        LOCKED,
        /** A file changed on the device between reading and writing. */
        CHANGED_MEANWHILE,
        /** The device did not do what it was told. */
        COMMAND_FAILED,
        /** A file is missing or beyond the limits. */
        UNREADABLE,
        /** This kind of device, or this way to it, cannot do that. */
        NOT_CAPABLE,
        /** The gateway is managed for reading only. */
        READ_ONLY
    }

    private final Kind kind;

    public GatewayFailure(Kind kind, String what, Throwable cause) {
        super(what, cause);
        this.kind = kind;
    }

    public Kind kind() {
        return kind;
    }
}
