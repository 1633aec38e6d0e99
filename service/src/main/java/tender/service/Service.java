package tender.service;

import java.io.IOException;
import java.net.URI;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.api.Problem;
import tender.api.WatchApi;
import tender.core.credential.KeyedDigest;
import tender.core.credential.Secret;
import tender.service.backup.BackupModule;
import tender.service.certificate.CertificateModule;
import tender.service.change.ChangeModule;
import tender.service.collect.CollectModule;
import tender.service.departure.DepartureModule;
import tender.service.device.DeviceModule;
import tender.service.event.LiveEvents;
import tender.service.expiry.ExpiryRoutes;
import tender.service.explain.ExplainRoutes;
import tender.service.finding.FindingModule;
import tender.service.gateway.GatewayJobs;
import tender.service.gateway.GatewayModule;
import tender.service.handout.HandoutModule;
import tender.service.http.Answer;
import tender.service.http.Costly;
import tender.service.http.Gate;
import tender.service.http.OneByOne;
import tender.service.http.OpenApi;
import tender.service.http.Problems;
import tender.service.http.Route;
import tender.service.http.Source;
import tender.service.importing.ImportRoutes;
import tender.service.importing.Importing;
import tender.service.importing.ProposedImport;
import tender.service.importing.ProposedImportRoutes;
import tender.service.inspect.InspectRoutes;
import tender.service.instruction.HandChangeShown;
import tender.service.instruction.InstructionModule;
import tender.service.job.JobRoutes;
import tender.service.job.JobRunner;
import tender.service.job.JobWaits;
import tender.service.journal.JournalModule;
import tender.service.key.KeyModule;
import tender.service.key.MasterKeys;
import tender.service.metrics.Metrics;
import tender.service.metrics.MetricsPort;
import tender.service.monitor.MonitorModule;
import tender.service.node.Housekeeping;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.service.office.OfficeRecords;
import tender.service.office.RecordsModule;
import tender.service.operator.OperatorModule;
import tender.service.operator.SigningIn;
import tender.service.overview.OverviewRoutes;
import tender.service.person.PersonRoutes;
import tender.service.profile.ClosedByHand;
import tender.service.profile.ProfileModule;
import tender.service.provision.ProvisionModule;
import tender.service.reconcile.ReconcileModule;
import tender.service.removal.RemovalRoutes;
import tender.service.session.SessionModule;
import tender.service.settings.Settings;
import tender.service.site.SiteRoutes;
import tender.service.sync.SyncModule;
import tender.service.trial.TrialModule;
import tender.service.walk.WalkRoutes;
import tender.store.jdbc.Db;
import tender.store.job.Jobs;
import tender.store.journal.Journal;
import tender.store.operator.Operators;
import tender.store.operator.Replays;
import tender.store.profile.Archives;

/** One node, put together and running. The only wiring there is. */
public final class Service implements AutoCloseable {
    public static final String VERSION = "0.1.0";
    private static final Logger LOG = LoggerFactory.getLogger(Service.class);

    private final DataFolder folder;
    private final Node node;
    private final LiveEvents events;
    private final JobWaits waits;
    private final CollectModule staff;
    private final OperatorModule operators;
    private final List<NodeModule> modules;
    private final List<Route> routes = new ArrayList<>();
    private final JobRunner jobs;
    private final ConsoleListener web;
    private Optional<MetricsPort> metricsPort = Optional.empty();

    private Service(DataFolder folder, Settings settings, Clock clock) throws IOException, InterruptedException {
        this.folder = folder;
        Opened opened = Opened.open(settings, folder, clock.instant());
        Db db = opened.db();
        this.node = new Node(db, clock, folder.node(), opened.installation(), settings, opened.cipher(), new Metrics());
        this.events = new LiveEvents(db);
        this.waits = new JobWaits(db);
        Gate gate = new Gate(
                db,
                new Replays(opened.cipher()),
                clock,
                new Source(settings.trustedProxy()),
                this::url,
                KeyedDigest.derived(opened.journalKey(), "requests"));
        this.operators = new OperatorModule(node, gate, folder::dropFirstPassword);
        this.staff = new CollectModule(node);
        List<NodeModule> words = words(opened.masterKeys());
        this.modules = Stream.concat(words.stream(), Stream.of(new Housekeeping(db, clock, words)))
                .toList();
        this.jobs = new JobRunner(
                db,
                node.name(),
                modules.stream().flatMap(m -> m.jobs().stream()).toList(),
                settings.workers(),
                Service::said,
                node.metrics());
        setRoutes();
        this.web = new ConsoleListener(node, routes, gate, events);
    }

    /** One for each word of the domain, in the order in which they are started. */
    private List<NodeModule> words(MasterKeys masterKeys) throws IOException {
        DeviceModule devices = new DeviceModule(node);
        RecordsModule office = new RecordsModule(node, devices.gateways(), devices.descriptions(), devices.names());
        OfficeRecords records = office.records();
        CertificateModule certificates = new CertificateModule(node, devices.descriptions());
        BackupModule backups = new BackupModule(node);
        GatewayModule gateways = new GatewayModule(
                node,
                devices,
                office,
                backups.keeping(),
                List.of(certificates.listsRead(), new ClosedByHand(), new HandChangeShown()),
                waits);
        ProfileModule profiles = new ProfileModule(node, devices, records, certificates, backups.backups());
        ReconcileModule reconcile = new ReconcileModule(
                node, devices, backups.keeping(), gateways.reading(), profiles.credentials(), certificates, waits);
        TrialModule trials = new TrialModule(
                node, devices, records, profiles, reconcile.waits()::untilActive, gateways.manual()::saw);
        InstructionModule instructions =
                new InstructionModule(node, devices, gateways, trials, profiles.credentials(), waits, this::url);
        FindingModule findings = new FindingModule(node, records);
        ChangeModule changes = new ChangeModule(
                node,
                devices,
                records,
                profiles.byHand(),
                gateways.reading(),
                backups.backups(),
                trials.canaryTrials(),
                reconcile.reconciler(),
                findings.findings(),
                certificates.signing(),
                waits);
        HandoutModule handouts = new HandoutModule(node, records, profiles, this::staffUrl);
        OneByOne oneByOne = new OneByOne();
        Archives archives = new Archives(node.cipher());
        Importing importing = new Importing(node.db(), records, archives, profiles.imported());
        ProposedImport proposed = new ProposedImport(
                node.db(), records, devices.gateways(), gateways.manual(), archives, profiles.imported());
        return List.of(
                operators,
                NodeModule.of(new SiteRoutes(node.db()).routes()),
                gateways,
                new SyncModule(node, devices.gateways(), reconcile.reconciler(), gateways.reading()),
                devices,
                changes,
                NodeModule.of(new WalkRoutes(records).routes()),
                NodeModule.of(ExplainRoutes.routes()),
                NodeModule.of(new InspectRoutes(oneByOne).routes()),
                office,
                NodeModule.of(new PersonRoutes(node.db()).routes()),
                NodeModule.of(new RemovalRoutes(node.db(), devices).routes()),
                profiles,
                handouts,
                new ProvisionModule(node, devices, records, profiles, handouts.deviceContent(), this::staffUrl),
                trials,
                instructions,
                new DepartureModule(node, devices, records, profiles.withdrawing(), trials.refusals(), waits),
                NodeModule.of(new ExpiryRoutes(node.db(), records).routes()),
                new MonitorModule(node, trials.canaryTrials(), devices.names()),
                new SessionModule(node, devices, GatewayJobs::reconcile),
                certificates,
                NodeModule.of(
                        new ImportRoutes(node.db(), devices.gateways(), devices.connections(), importing, oneByOne)
                                .routes()),
                NodeModule.of(new ProposedImportRoutes(proposed, oneByOne).routes()),
                backups,
                findings,
                new KeyModule(node, masterKeys),
                NodeModule.of(JobRoutes.of(node.db())),
                new JournalModule(node),
                NodeModule.of(new OverviewRoutes(node.db(), findings.findings(), instructions.open()).routes()),
                reconcile,
                staff);
    }

    private static JobRunner.Said said(RuntimeException e, String where) {
        Problem problem = Problems.problem(e, where);
        return new JobRunner.Said(problem.code(), problem.detail());
    }

    private void setRoutes() {
        routes.add(Route.get(
                "/health", Route.OPEN, "Whether this node serves", WatchApi.Health.class, call -> Answer.ok(health())));
        routes.add(Route.get(
                "/openapi.json",
                Route.OPEN,
                "This description",
                null,
                call -> new Answer.File("application/json", "openapi.json", OpenApi.document(routes))));
        modules.forEach(m -> routes.addAll(m.routes()));
        routes.add(LiveEvents.ROUTE);
    }

    /** Starts a node; empty when another process uses its data folder. */
    public static Optional<Service> start(Settings settings, Clock clock) throws IOException, InterruptedException {
        Optional<DataFolder> folder = DataFolder.take(settings.dataFolder());
        if (folder.isEmpty()) {
            return Optional.empty();
        }
        Service service = new Service(folder.get(), settings, clock);
        service.begin();
        return Optional.of(service);
    }

    /** Gives an account a first password again; empty where it does not exist or a node runs on the folder. */
    static Optional<Secret> recover(Settings settings, String name, Clock clock)
            throws IOException, InterruptedException {
        Optional<DataFolder> taken = DataFolder.take(settings.dataFolder());
        if (taken.isEmpty()) {
            return Optional.empty();
        }
        try (DataFolder folder = taken.get()) {
            Opened opened = Opened.open(settings, folder, clock.instant());
            try (Db db = opened.db()) {
                return new SigningIn(
                                db,
                                new Operators(opened.cipher()),
                                new SigningIn.Rules(false, settings.passwordMemory()),
                                new Costly())
                        .recover(name, clock.instant());
            }
        }
    }

    private void begin() throws IOException {
        Optional<Secret> password = operators.firstOwner();
        if (password.isPresent()) {
            LOG.info(
                    "the first owner is \"owner\"; the password stands in {}",
                    folder.writeFirstPassword(password.get()));
        }
        Db db = node.db();
        db.inTransaction(Journal::firstBroken)
                .ifPresent(number -> LOG.error("the journal's chain is broken at entry {}", number));
        Instant now = node.clock().instant();
        modules.forEach(m -> db.run(tx -> m.ensure(tx, now)));
        events.whenHeard(this::heard);
        jobs.start();
        modules.forEach(NodeModule::start);
        web.start();
        node.metrics().watch(db);
        if (settings().metrics().isPresent()) {
            metricsPort = Optional.of(MetricsPort.start(settings().metrics().get(), db, node.metrics()));
            LOG.info(
                    "metrics at http://{}:{}/metrics",
                    settings().metrics().get().getHostString(),
                    metricsPort());
        }
        LOG.info("console and API at {}, staff's page at {}", url(), staffUrl());
    }

    private void heard(String topic, String id) {
        if (topic.equals(Jobs.ADDED) || topic.equals(LiveEvents.RECONNECTED)) {
            jobs.wake();
        }
        if (topic.equals("job")) {
            waits.heard(id);
        }
        modules.forEach(m -> m.heard(topic, id));
    }

    private WatchApi.Health health() {
        node.db().inTransaction(tx -> tx.first("select 1 as one", p -> p, row -> row.integer("one")));
        return new WatchApi.Health("serving", VERSION, node.name());
    }

    /** Where console and API are called. */
    public URI url() {
        return settings().console().url(web.port());
    }

    int port() {
        return web.port();
    }

    int metricsPort() {
        return metricsPort.map(MetricsPort::port).orElse(0);
    }

    /** Where staff collect. */
    public URI staffUrl() {
        return staff.url();
    }

    Settings settings() {
        return node.settings();
    }

    /** All routes of console and API, as the OpenAPI document lists them. */
    public List<Route> routes() {
        return List.copyOf(routes);
    }

    @Override
    public void close() throws IOException {
        web.drain(); // a load balancer sends nothing new here
        events.close(); // open streams end before the web listener does, not on its torn-down requests
        modules.forEach(NodeModule::drain);
        waits.close();
        web.close();
        metricsPort.ifPresent(MetricsPort::close);
        jobs.close();
        modules.forEach(NodeModule::close);
        node.db().close();
        folder.close();
    }
}
