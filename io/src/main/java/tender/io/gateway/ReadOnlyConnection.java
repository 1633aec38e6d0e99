package tender.io.gateway;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.core.backup.Snapshot;
import tender.core.wireguard.StatusDump;

/** A connection to a gateway that only people change: whatever would write there, or ask what runs there, fails. */
abstract class ReadOnlyConnection implements ManagementConnection {
    private final String why;

    /** @param why it cannot be written, and what to do instead */
    ReadOnlyConnection(String why) {
        this.why = why;
    }

    final GatewayFailure cannot() {
        return new GatewayFailure(GatewayFailure.Kind.NOT_CAPABLE, why, null);
    }

    @Override
    public StatusDump status() {
        return new StatusDump(List.of());
    }

    @Override
    public List<Connected> connected() {
        return List.of();
    }

    @Override
    public List<String> log(int lines) {
        throw cannot();
    }

    @Override
    public Instant clock() {
        throw cannot();
    }

    @Override
    public byte[] tunnel(String listener) {
        throw cannot();
    }

    @Override
    public byte[] revocationLists(String path) {
        throw cannot();
    }

    @Override
    public Applied apply(GatewayPlan plan, Hold hold) {
        throw cannot();
    }

    @Override
    public void reload() {
        throw cannot();
    }

    @Override
    public void undo(Snapshot before, Optional<Snapshot> after, Hold hold) {
        throw cannot();
    }

    @Override
    public void arm(Duration after) {
        throw cannot();
    }

    @Override
    public void disarm() {
        throw cannot();
    }

    @Override
    public void close() {
        // holds nothing open
    }
}
