package tender.service.job;

/** Work that shares threads. Each lane has its own, so that slow work of one kind keeps no other waiting. */
public enum Lane {
    /** Writes to gateways, which somebody waits for. */
    INTERACTIVE,
    /** Reading gateways. */
    GATEWAY,
    /** Trials. */
    TRIAL,
    /** All that keeps records in order. */
    UPKEEP
}
