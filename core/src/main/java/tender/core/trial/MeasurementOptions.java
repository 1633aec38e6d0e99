package tender.core.trial;

import java.util.Optional;
import tender.core.network.HostName;
import tender.core.network.IpAddress;

/**
 * What a trial is to measure beyond its verdict.
 *
 * @param echoes how many are sent to the inside host; 0 for none
 * @param size whether the largest packet is looked for
 * @param insideName a name that the name server inside should know
 * @param outside where to ask which address the outside sees
 * @param transfer whether to measure what passes
 */
public record MeasurementOptions(
        int echoes, boolean size, Optional<HostName> insideName, Optional<IpAddress> outside, boolean transfer) {
    public static final MeasurementOptions NOTHING =
            new MeasurementOptions(0, false, Optional.empty(), Optional.empty(), false);
    public static final int MOST_ECHOES = 200;

    public boolean anything() {
        return echoes > 0 || size || insideName.isPresent() || outside.isPresent() || transfer;
    }
}
