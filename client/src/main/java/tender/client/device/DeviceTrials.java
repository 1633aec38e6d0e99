package tender.client.device;

import java.io.IOException;
import java.nio.file.Files;
import java.time.Instant;
import java.util.Optional;
import tender.client.trial.TextTrial;
import tender.core.openvpn.ClientSettings;
import tender.core.trial.Claims;
import tender.core.trial.MeasurementOptions;
import tender.core.wire.MalformedException;
import tender.io.names.NameService;

/** Connects with the very files that this device holds. */
final class DeviceTrials {
    private final NameService names;

    DeviceTrials(NameService names) {
        this.names = names;
    }

    /** The profile with what came of it; without a verdict where its settings are typed, or a password is asked for. */
    HeldProfile of(HeldProfile held, Instant now) {
        String text;
        try {
            text = Files.readString(held.main());
        } catch (IOException e) {
            return held.tried(Optional.of(false), Optional.of("its file cannot be read"), now);
        }
        TextTrial trial = new TextTrial(
                text,
                Optional.empty(),
                names,
                new ClientSettings.Added(Optional.empty(), Optional.empty()),
                MeasurementOptions.NOTHING);
        try {
            TextTrial.Outcome outcome = trial.run();
            Claims claims = trial.claims(outcome);
            return held.tried(Optional.of(claims.areShown()), Optional.of(claims.words()), now);
        } catch (MalformedException e) {
            return held.tried(Optional.empty(), Optional.empty(), now);
        }
    }
}
