package tender.service.instruction;

import java.net.URI;
import java.time.Instant;
import java.util.List;
import java.util.function.Supplier;
import tender.service.alert.OutgoingMail;
import tender.service.device.DeviceModule;
import tender.service.gateway.GatewayModule;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.job.JobKind;
import tender.service.job.JobWaits;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.service.trial.ListenerProof;
import tender.service.trial.RefusalProof;
import tender.service.trial.TrialModule;
import tender.store.credential.Credentials;
import tender.store.jdbc.Tx;

/** What is to be done by hand at gateways. */
public final class InstructionModule implements NodeModule {
    private final Node node;
    private final DeviceModule devices;
    private final GatewayModule gateways;
    private final ListenerProof proof;
    private final RefusalProof refusals;
    private final Credentials credentials;
    private final JobWaits waits;
    private final Supplier<URI> console;
    private final OpenInstructions open;
    private final OutgoingMail mail;

    public InstructionModule(
            Node node,
            DeviceModule devices,
            GatewayModule gateways,
            TrialModule trials,
            Credentials credentials,
            JobWaits waits,
            Supplier<URI> console) {
        this.node = node;
        this.devices = devices;
        this.gateways = gateways;
        this.proof = trials.proof();
        this.refusals = trials.refusals();
        this.credentials = credentials;
        this.waits = waits;
        this.console = console;
        this.open = new OpenInstructions(devices.gateways());
        this.mail = new OutgoingMail(node.settings().alerts().mail(), devices.names(), node.clock());
    }

    public OpenInstructions open() {
        return open;
    }

    @Override
    public List<Route> routes() {
        return Routes.of(new InstructionRoutes(
                node.db(),
                devices.gateways(),
                gateways.manual(),
                open,
                new InstructionTexts(credentials),
                refusals,
                mail,
                waits));
    }

    @Override
    public List<JobKind> jobs() {
        return List.of(
                new HandChangeCheck(node.db(), node.clock(), devices.gateways(), gateways.reading(), proof),
                new InstructionMail(node.db(), node.clock(), devices.gateways(), open, mail, console));
    }

    @Override
    public void ensure(Tx tx, Instant now) {
        InstructionMail.ensure(tx);
    }
}
