package tender.service.trial;

import java.time.Instant;
import java.util.List;
import tender.service.device.DeviceModule;
import tender.service.event.LiveEvents;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.job.JobKind;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.service.office.OfficeRecords;
import tender.service.profile.ProfileModule;
import tender.store.jdbc.Tx;
import tender.store.trial.Trials;

/** Trials: from here, with canaries, and from standing vantages. */
public final class TrialModule implements NodeModule {
    private final Node node;
    private final DeviceModule devices;
    private final ProfileModule profiles;
    private final Delivery delivery;
    private final TrialRunner runner;
    private final CanaryTrials canaryTrials;
    private final Vantages vantages;
    private final VantageWaits waits;
    private final ListenerProof proof;
    private final RefusalProof refusals;

    public TrialModule(
            Node node,
            DeviceModule devices,
            OfficeRecords records,
            ProfileModule profiles,
            Delivery delivery,
            TrialRunner.Observing observing) {
        this.node = node;
        this.devices = devices;
        this.profiles = profiles;
        this.delivery = delivery;
        this.runner = new TrialRunner(
                node.db(),
                node.clock(),
                devices.gateways(),
                profiles.files(),
                profiles.canaries(),
                delivery,
                devices.connections(),
                records,
                devices.names(),
                node.settings().outside(),
                observing);
        this.proof = new ListenerProof(node.db(), node.clock(), profiles.files(), records, runner);
        this.canaryTrials =
                new CanaryTrials(node.db(), node.clock(), devices.gateways(), profiles.canaries(), delivery, runner);
        this.refusals = new RefusalProof(node.db(), profiles.byHand(), profiles.files(), proof, canaryTrials, delivery);
        this.vantages = new Vantages(
                node.db(),
                node.clock(),
                devices.gateways(),
                profiles.files(),
                profiles.canaries(),
                delivery,
                runner,
                records,
                devices.names());
        this.waits = new VantageWaits(node.db(), vantages::handed);
    }

    public CanaryTrials canaryTrials() {
        return canaryTrials;
    }

    public RefusalProof refusals() {
        return refusals;
    }

    public ListenerProof proof() {
        return proof;
    }

    @Override
    public List<Route> routes() {
        Starting starting = new Starting(node.db(), devices.gateways(), profiles.canaries(), vantages);
        ElsewhereTrials elsewhere = new ElsewhereTrials(node.db(), devices.gateways(), runner);
        return Routes.of(new TrialRoutes(node.db(), starting), new VantageRoutes(vantages, elsewhere, waits));
    }

    @Override
    public List<JobKind> jobs() {
        return List.of(
                new TrialJob(node.db(), node.clock(), runner, delivery),
                new HandedTrial(node.db(), node.clock()),
                new InstructionCheck(node.db(), node.clock(), proof, refusals));
    }

    @Override
    public void ensure(Tx tx, Instant now) {
        InstructionCheck.ensure(tx);
    }

    @Override
    public void heard(String topic, String id) {
        if (topic.equals(Trials.WAITING)) {
            waits.look(id);
        } else if (topic.equals(LiveEvents.RECONNECTED)) {
            waits.lookAll();
        }
    }

    @Override
    public void drain() {
        waits.close();
    }
}
