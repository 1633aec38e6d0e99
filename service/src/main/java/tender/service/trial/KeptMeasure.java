package tender.service.trial;

import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import tender.core.network.IpAddress;
import tender.core.trial.Exit;
import tender.core.trial.Measured;
import tender.store.trial.TrialDocuments;

/** What was measured, as it is kept, and back. */
final class KeptMeasure {
    private KeptMeasure() {}

    /**
     * @param line what the slower direction of the gateway's line takes, in millions of bits a second
     * @param earlier rates of transfers measured before from the same place
     */
    static TrialDocuments.Measured of(Measured m, OptionalInt line, List<Double> earlier) {
        return new TrialDocuments.Measured(
                m.sent(),
                m.loss() * 100,
                m.least(),
                m.mean(),
                m.most(),
                m.largestPacket(),
                m.name()
                        .map(n -> new TrialDocuments.InsideName(
                                n.name(),
                                n.server().toString(),
                                n.answered(),
                                n.address().map(Object::toString))),
                m.exit()
                        .map(e -> new TrialDocuments.Exit(
                                e.full(),
                                e.direct().map(Object::toString),
                                e.through().map(Object::toString),
                                e.asClaimed(),
                                e.words())),
                m.transfer()
                        .map(t -> new TrialDocuments.Transfer(
                                t.bytes(), t.millis(), t.megabits(), t.words(line, earlier))));
    }

    /** As far as claims rest on it: the name inside and the way outside. */
    static Measured facts(TrialDocuments.Measured kept) {
        return new Measured(
                List.of(),
                0,
                Optional.empty(),
                kept.name()
                        .map(n -> new Measured.InsideName(
                                n.name(),
                                IpAddress.parse(n.server()),
                                n.answered(),
                                n.address().map(IpAddress::parse))),
                kept.exit()
                        .map(e -> new Exit(
                                e.full(),
                                e.direct().map(IpAddress::parse),
                                e.through().map(IpAddress::parse))),
                Optional.empty());
    }
}
