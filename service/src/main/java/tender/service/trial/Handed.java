package tender.service.trial;

import java.util.Optional;
import java.util.UUID;
import java.util.function.Function;
import tender.core.credential.Secret;
import tender.core.network.IpAddress;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.ReachabilityProbe;
import tender.service.profile.ProfileFiles;

/** What a standing vantage is handed for a trial; never anybody's own file. */
sealed interface Handed {
    UUID trialId();

    /** What is tried, such as a listener at its gateway. */
    String subject();

    <T> T match(Function<Connect, T> connect, Function<Probe, T> probe);

    /**
     * A canary's file to connect with.
     *
     * @param account to sign in with, where the listener asks for one
     * @param insideHost to be reached through the tunnel
     */
    record Connect(
            UUID trialId,
            String subject,
            Secret file,
            Optional<ProfileFiles.Account> account,
            Optional<IpAddress> insideHost,
            MeasurementOptions wanted)
            implements Handed {
        @Override
        public <T> T match(Function<Connect, T> connect, Function<Probe, T> probe) {
            return connect.apply(this);
        }
    }

    /** What to probe, and what should answer. */
    record Probe(UUID trialId, String subject, ReachabilityProbe probe) implements Handed {
        @Override
        public <T> T match(Function<Connect, T> connect, Function<Probe, T> probe) {
            return probe.apply(this);
        }
    }
}
