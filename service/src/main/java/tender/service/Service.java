package tender.service;

import io.javalin.Javalin;
import io.javalin.http.Context;
import java.io.IOException;
import java.net.URI;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.api.Problem;
import tender.api.WatchApi;
import tender.core.credential.KeyedDigest;
import tender.core.credential.Secret;
import tender.io.gateway.CallableAddresses;
import tender.io.gateway.CallableNames;
import tender.io.gateway.FileConnector;
import tender.io.gateway.HttpsConnector;
import tender.io.gateway.SshConnector;
import tender.io.names.DnsNameService;
import tender.io.names.NameService;
import tender.service.adopt.AdoptRoutes;
import tender.service.adopt.Adopting;
import tender.service.alert.Alerts;
import tender.service.backup.BackupKeeping;
import tender.service.backup.BackupRoutes;
import tender.service.certificate.CertificateRoutes;
import tender.service.certificate.ListRenewal;
import tender.service.certificate.ListsRead;
import tender.service.certificate.RevocationListWrites;
import tender.service.certificate.Signing;
import tender.service.change.ChangeOrdering;
import tender.service.change.ChangeRoutes;
import tender.service.change.ChangeWork;
import tender.service.change.ListenerCertificateJob;
import tender.service.change.ListenerCertificates;
import tender.service.change.MendRoutes;
import tender.service.change.Retiring;
import tender.service.collect.CollectionJournal;
import tender.service.collect.StaffPage;
import tender.service.device.Boxes;
import tender.service.device.Connections;
import tender.service.device.DescriptionRoutes;
import tender.service.event.LiveEvents;
import tender.service.explain.ExplainRoutes;
import tender.service.finding.FindingKeeper;
import tender.service.finding.FindingRoutes;
import tender.service.finding.FindingsList;
import tender.service.finding.Judging;
import tender.service.gateway.GatewayBackupJob;
import tender.service.gateway.GatewayJobs;
import tender.service.gateway.GatewayReadJob;
import tender.service.gateway.GatewayReading;
import tender.service.gateway.GatewayRoutes;
import tender.service.handout.FitGate;
import tender.service.handout.HandoutRoutes;
import tender.service.http.Answer;
import tender.service.http.Costly;
import tender.service.http.Gate;
import tender.service.http.Headers;
import tender.service.http.HealthChecks;
import tender.service.http.Listening;
import tender.service.http.OneByOne;
import tender.service.http.OpenApi;
import tender.service.http.Pages;
import tender.service.http.Problems;
import tender.service.http.Route;
import tender.service.http.Source;
import tender.service.inspect.InspectRoutes;
import tender.service.job.JobKind;
import tender.service.job.JobRoutes;
import tender.service.job.JobRunner;
import tender.service.job.JobWaits;
import tender.service.journal.JournalHead;
import tender.service.journal.JournalRoutes;
import tender.service.key.KeyRotationJob;
import tender.service.key.KeyRoutes;
import tender.service.key.MasterKeys;
import tender.service.life.LifeRoutes;
import tender.service.metrics.Metrics;
import tender.service.metrics.MetricsPort;
import tender.service.office.NameLookups;
import tender.service.office.OfficeRecords;
import tender.service.office.SheetRoutes;
import tender.service.operator.AccountRoutes;
import tender.service.operator.OperatorRoutes;
import tender.service.operator.SigningIn;
import tender.service.overview.OverviewRoutes;
import tender.service.person.PersonRoutes;
import tender.service.profile.AdoptedProfiles;
import tender.service.profile.ByHand;
import tender.service.profile.Canaries;
import tender.service.profile.CertificateProfiles;
import tender.service.profile.ClosedByHand;
import tender.service.profile.Ending;
import tender.service.profile.HandInstructions;
import tender.service.profile.Issuing;
import tender.service.profile.ProfileFiles;
import tender.service.profile.ProfileRoutes;
import tender.service.profile.RenewalAhead;
import tender.service.profile.Renewing;
import tender.service.profile.SettingsRoutes;
import tender.service.profile.Sheets;
import tender.service.profile.VariantRoutes;
import tender.service.profile.Withdrawing;
import tender.service.reconcile.GatewayReconciler;
import tender.service.reconcile.ReconcileWaits;
import tender.service.round.RoundJob;
import tender.service.round.RoundRoutes;
import tender.service.session.SessionPolling;
import tender.service.session.SessionRoutes;
import tender.service.session.Watch;
import tender.service.settings.Settings;
import tender.service.site.SiteRoutes;
import tender.service.sync.GatewaySync;
import tender.service.sync.SyncRoutes;
import tender.service.trial.CanaryTrials;
import tender.service.trial.ElsewhereTrials;
import tender.service.trial.HandedTrial;
import tender.service.trial.Starting;
import tender.service.trial.TrialJob;
import tender.service.trial.TrialRoutes;
import tender.service.trial.TrialRunner;
import tender.service.trial.VantageRoutes;
import tender.service.trial.VantageWaits;
import tender.service.trial.Vantages;
import tender.service.walk.WalkRoutes;
import tender.store.backup.Backups;
import tender.store.certificate.Authorities;
import tender.store.certificate.Certificates;
import tender.store.credential.Credentials;
import tender.store.credential.Custody;
import tender.store.event.Events;
import tender.store.handout.Handouts;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.GivenFiles;
import tender.store.operator.Attempts;
import tender.store.operator.Operators;
import tender.store.operator.Replays;
import tender.store.operator.SignIns;
import tender.store.profile.Archives;
import tender.store.profile.Revisions;
import tender.store.profile.Standings;
import tender.store.reconcile.DesiredResources;
import tender.store.reconcile.WriterLeases;
import tender.store.secret.ColumnCipher;
import tender.store.secret.KeyRotations;
import tender.store.session.Sessions;
import tender.store.trial.Trials;

/** One node, put together and running. The only wiring there is. */
public final class Service implements AutoCloseable {
    public static final String VERSION = "0.1.0";
    private static final String BEGAN = "tender.began";
    private static final Logger LOG = LoggerFactory.getLogger(Service.class);

    private final DataFolder folder;
    private final Settings settings;
    private final Clock clock;
    private final String node;
    private final Db db;
    private final Boxes boxes;
    private final LiveEvents events;
    private final JobRunner jobs;
    private final Gateways gateways;
    private final SessionPolling polling;
    private final VantageWaits vantageWaits;
    private final GatewayReconciler reconciler;
    private final JobWaits jobWaits;
    private final FindingKeeper keeper;
    private final SigningIn signingIn;
    private final Metrics metrics = new Metrics();
    private final List<Route> routes = new ArrayList<>();
    private final Optional<StaffPage> staff;
    private final JournalHead heads;
    private final Javalin web;
    private Optional<MetricsPort> metricsPort = Optional.empty();
    private volatile boolean closing;

    private Service(DataFolder folder, Settings settings, Clock clock) throws IOException, InterruptedException {
        this.folder = folder;
        this.settings = settings;
        this.clock = clock;
        this.node = folder.node();
        Opened opened = Opened.open(settings, folder, clock.instant());
        ColumnCipher cipher = opened.cipher();
        this.db = opened.db();
        String installation = opened.installation();

        this.gateways = new Gateways(cipher);
        Credentials credentials = new Credentials(cipher);
        Revisions revisions = new Revisions(cipher);
        Backups backups = new Backups(cipher);
        Operators operators = new Operators(cipher);
        CallableAddresses callable = new CallableAddresses(settings.callableLocal());
        NameService names = new CallableNames(new DnsNameService(settings.resolver()), callable);
        GivenFiles given = new GivenFiles(cipher);
        this.boxes = new Boxes(
                db,
                Map.of(
                        "ssh", new SshConnector(names, callable),
                        "https", new HttpsConnector(names, callable),
                        "file",
                                new FileConnector(name -> db.inTransaction(tx -> given.of(tx, name))
                                        .map(g -> new FileConnector.Files(g.files(), g.taken())))));
        this.events = new LiveEvents(db);

        Connections connections = new Connections(db, gateways, boxes, metrics);
        BackupKeeping keeping = new BackupKeeping(db, backups);
        OfficeRecords records = new OfficeRecords(db, gateways, boxes);
        GatewayReading reading = new GatewayReading(
                db,
                clock,
                gateways,
                connections,
                boxes,
                keeping,
                records,
                List.of(new ListsRead(boxes), new ClosedByHand()));
        Certificates certificates = new Certificates(cipher);
        Signing signing = new Signing(db, new Authorities(cipher), certificates);
        CertificateProfiles certified =
                new CertificateProfiles(gateways, records, boxes, backups, signing, certificates);
        ByHand byHand = new ByHand(gateways, boxes);
        Issuing issuing = new Issuing(db, gateways, credentials, revisions, certified, byHand);
        Withdrawing withdrawing = new Withdrawing(db, credentials, revisions, certified, byHand);
        ProfileFiles files = new ProfileFiles(db, credentials, revisions);
        Renewing renewing = new Renewing(db, gateways, credentials, revisions, certified, byHand);
        Canaries canaries = new Canaries(db, gateways, renewing);
        this.keeper = new FindingKeeper(db, node, new Judging(db, clock, records));
        FindingsList findings = new FindingsList(db, keeper);
        NameLookups lookups = new NameLookups(db, clock, records, names);
        this.polling = new SessionPolling(
                db,
                node,
                new Watch(db, clock, gateways, connections::open, GatewayJobs::reconcile),
                settings.watch(),
                settings.workers());
        this.reconciler = new GatewayReconciler(
                db,
                clock,
                node,
                installation,
                gateways,
                credentials,
                connections,
                keeping,
                reading,
                new RevocationListWrites(db, clock, boxes, signing));
        this.jobWaits = new JobWaits(db);
        ReconcileWaits waits = new ReconcileWaits(db, jobWaits);
        TrialRunner runner = new TrialRunner(
                db, clock, gateways, files, canaries, waits::inForce, connections, records, names, settings.outside());
        CanaryTrials trials = new CanaryTrials(db, clock, gateways, canaries, waits::inForce, runner);
        Vantages vantages = new Vantages(db, clock, gateways, files, canaries, waits::inForce, runner, records, names);
        ChangeWork changeWork =
                new ChangeWork(db, clock, connections, reading, backups, trials, reconciler, settings.guard());
        ChangeOrdering ordering = new ChangeOrdering(db, records);
        ChangeRoutes deviceChanges = new ChangeRoutes(db, gateways, records, connections, ordering, jobWaits);
        this.signingIn = new SigningIn(db, operators, settings.secondFactor(), new Costly());

        MasterKeys masterKeys = opened.masterKeys();
        CollectionJournal collections = new CollectionJournal(db, clock);
        this.heads = new JournalHead(db, clock, node, settings);
        Alerts alerts = new Alerts(clock, settings.alerts(), names);
        List<JobKind> kinds = new ArrayList<>();
        kinds.add(new GatewayReadJob(reading));
        kinds.add(new GatewayBackupJob(reading));
        kinds.add(reconciler);
        kinds.add(new TrialJob(db, clock, runner, waits::inForce));
        kinds.add(changeWork);
        kinds.add(new ListenerCertificateJob(db, clock, gateways, connections, signing, ordering));
        kinds.add(lookups);
        kinds.add(new Ending(db, clock, byHand));
        kinds.add(new RenewalAhead(db, clock, renewing));
        kinds.add(new ListRenewal(db, clock, signing));
        kinds.add(new GatewaySync(reconciler, reading));
        kinds.add(alerts);
        kinds.add(new HandedTrial(db, clock));
        kinds.add(new RoundJob(db, clock, trials, alerts));
        kinds.add(new Retiring(db, clock, gateways, ordering));
        kinds.add(new KeyRotationJob(db, clock, masterKeys));
        kinds.add(collections);
        kinds.addAll(heads.kinds());
        kinds.add(new Housekeeping());
        this.jobs = new JobRunner(
                db,
                node,
                kinds,
                settings.workers(),
                (e, where) -> {
                    Problem problem = Problems.problem(e, where);
                    return new JobRunner.Said(problem.code(), problem.detail());
                },
                metrics);
        this.vantageWaits = new VantageWaits(db, vantages::handed);
        events.whenHeard((topic, id) -> {
            if (topic.equals(Jobs.ADDED) || topic.equals(LiveEvents.RECONNECTED)) {
                jobs.wake();
            }
            keeper.heard(topic, id);
            if (topic.equals(KeyRotations.TOPIC) || topic.equals(LiveEvents.RECONNECTED)) {
                CompletableFuture.runAsync(masterKeys::heard);
            }
            if (topic.equals("job")) {
                jobWaits.heard(id);
            }
            if (topic.equals(Trials.WAITING)) {
                vantageWaits.look(id);
            } else if (topic.equals(LiveEvents.RECONNECTED)) {
                vantageWaits.lookAll();
            }
        });

        this.staff = settings.staffRun() == Settings.StaffRun.HERE
                ? Optional.of(StaffPage.start(db, clock, settings, collections::collected))
                : Optional.empty();
        Gate gate = new Gate(
                db,
                new Replays(cipher),
                clock,
                new Source(settings.trustedProxy()),
                this::url,
                KeyedDigest.derived(opened.journalKey(), "requests"));
        routes.add(Route.get(
                "/health", Route.OPEN, "Whether this node serves", WatchApi.Health.class, call -> Answer.ok(health())));
        routes.add(Route.get(
                "/openapi.json",
                Route.OPEN,
                "This description",
                null,
                call -> new Answer.File("application/json", "openapi.json", OpenApi.document(routes))));
        routes.addAll(new OperatorRoutes(db, operators, signingIn, gate, folder::dropFirstPassword).routes());
        routes.addAll(new AccountRoutes(db, operators, signingIn).routes());
        routes.addAll(new SiteRoutes(db).routes());
        routes.addAll(new GatewayRoutes(db, gateways, boxes, reading, lookups, given, jobWaits).routes());
        routes.addAll(new SyncRoutes(db, gateways).routes());
        routes.addAll(new DescriptionRoutes(db, boxes).routes());
        routes.addAll(deviceChanges.routes());
        routes.addAll(new WalkRoutes(records).routes());
        routes.addAll(ExplainRoutes.routes());
        OneByOne oneByOne = new OneByOne();
        routes.addAll(new InspectRoutes(oneByOne).routes());
        routes.addAll(new SheetRoutes(db, records).routes());
        routes.addAll(new PersonRoutes(db).routes());
        routes.addAll(
                new ProfileRoutes(db, gateways, issuing, renewing, withdrawing, new HandInstructions(db, credentials))
                        .routes());
        routes.addAll(new VariantRoutes(db, gateways, renewing).routes());
        Sheets sheets = new Sheets(db);
        routes.addAll(new SettingsRoutes(files, sheets).routes());
        routes.addAll(new HandoutRoutes(
                        db, files, sheets, new FitGate(db, records, files, settings.callableLocal()), this::staffUrl)
                .routes());
        routes.addAll(new TrialRoutes(db, new Starting(db, gateways, canaries, vantages)).routes());
        routes.addAll(new VantageRoutes(vantages, new ElsewhereTrials(db, gateways, runner), vantageWaits).routes());
        routes.addAll(new LifeRoutes(db, records).routes());
        routes.addAll(new RoundRoutes(db).routes());
        routes.addAll(SessionRoutes.of(db));
        routes.addAll(new CertificateRoutes(db, signing).routes());
        routes.addAll(new ListenerCertificates(db, gateways, records, deviceChanges, jobWaits).routes());
        routes.addAll(new AdoptRoutes(
                        db,
                        gateways,
                        connections,
                        new Adopting(db, records, new Archives(cipher), new AdoptedProfiles(credentials, revisions)),
                        oneByOne)
                .routes());
        routes.addAll(new BackupRoutes(db, backups).routes());
        routes.addAll(new FindingRoutes(db, findings).routes());
        routes.addAll(new MendRoutes(db, gateways, findings, deviceChanges, ordering).routes());
        routes.addAll(new KeyRoutes(db, masterKeys).routes());
        routes.addAll(JobRoutes.of(db));
        routes.addAll(new JournalRoutes(db).routes());
        routes.addAll(new OverviewRoutes(db, findings).routes());
        routes.add(LiveEvents.ROUTE);
        this.web = web(gate);
    }

    private Javalin web(Gate gate) {
        byte[] missing = tender.service.http.Json.write(
                Problem.of(tender.api.ProblemCode.NOT_FOUND, "there is nothing at this path", ""));
        return Javalin.create(config -> {
            config.startup.showJavalinBanner = false;
            config.startup.showOldJavalinVersionWarning = false;
            Listening.console(config, settings, gate);
            config.routes.before(context -> {
                context.attribute(BEGAN, System.nanoTime());
                Headers.put(context, gate.isHttps());
            });
            config.routes.after(this::measure);
            HealthChecks checks = new HealthChecks(db, () -> closing);
            config.routes.get("/health/live", checks::live);
            config.routes.get("/health/ready", checks::ready);
            gate.register(
                    config.routes,
                    routes.stream().filter(r -> r != LiveEvents.ROUTE).toList());
            gate.stream(config.routes, LiveEvents.ROUTE, events::opened);
            config.routes.get("/assets/{file}", context -> Pages.send(context, "/assets/" + context.pathParam("file")));
            config.routes.get("/", context -> Pages.send(context, "/index.html"));
            config.routes.get("/<page>", context -> {
                if (context.path().startsWith("/api/")) {
                    context.status(404).contentType("application/problem+json").result(missing);
                } else {
                    Pages.send(context, "/index.html");
                }
            });
            config.routes.exception(Exception.class, Problems::answer);
        });
    }

    private void measure(Context context) {
        String route = context.attribute(Gate.ROUTE);
        Long began = context.attribute(BEGAN);
        if (route != null && began != null) {
            metrics.request(
                    context.method().name(), route, context.statusCode(), Duration.ofNanos(System.nanoTime() - began));
        }
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
                return new SigningIn(db, new Operators(opened.cipher()), false, new Costly())
                        .recover(name, clock.instant());
            }
        }
    }

    private void begin() throws IOException {
        Optional<Secret> password = signingIn.firstOwner(clock.instant());
        if (password.isPresent()) {
            LOG.info(
                    "the first owner is \"owner\"; the password stands in {}",
                    folder.writeFirstPassword(password.get()));
        }
        db.run(Standings::refresh); // after an upgrade all are due
        db.inTransaction(Journal::firstBroken)
                .ifPresent(number -> LOG.error("the journal's chain is broken at entry {}", number));
        db.run(tx -> {
            Instant now = clock.instant();
            Sessions.ensureMonth(tx, now);
            ChangeWork.ensure(tx, now);
            NameLookups.ensure(tx, settings.nameLookups(), now);
            ListRenewal.ensure(tx, now);
            RenewalAhead.ensure(tx, now);
            Retiring.ensure(tx, settings.nameLookups(), now);
            WriterLeases.lapse(tx, node);
            DesiredResources.gatewaysDue(tx).forEach(gatewayId -> GatewayJobs.reconcile(tx, gatewayId));
            CollectionJournal.ensure(tx, now);
            heads.ensure(tx, now);
            Jobs.keepRunning(tx, Housekeeping.NAME, Duration.ofMinutes(10));
        });
        jobs.start();
        polling.start();
        keeper.start();
        web.start();
        metrics.watch(db);
        if (settings.metrics().isPresent()) {
            metricsPort = Optional.of(MetricsPort.start(settings.metrics().get(), db, metrics));
            LOG.info("metrics at http://{}:{}/metrics", settings.metrics().get().getHostString(), metricsPort());
        }
        LOG.info("console and API at {}, staff's page at {}", url(), staffUrl());
    }

    private WatchApi.Health health() {
        db.inTransaction(tx -> tx.first("select 1 as one", p -> p, row -> row.integer("one")));
        return new WatchApi.Health("serving", VERSION, node);
    }

    public URI url() {
        return settings.console().url(web.port());
    }

    int port() {
        return web.port();
    }

    int metricsPort() {
        return metricsPort.map(MetricsPort::port).orElse(0);
    }

    public URI staffUrl() {
        return settings.staff().url(staff.map(StaffPage::port).orElse(0));
    }

    Settings settings() {
        return settings;
    }

    public List<Route> routes() {
        return List.copyOf(routes);
    }

    /** Clears what has had its time. */
    private final class Housekeeping implements JobKind {
        private static final String NAME = "housekeeping";

        @Override
        public String name() {
            return NAME;
        }

        @Override
        public void run(Jobs.Job job, Progress progress) {
            Instant now = clock.instant();
            db.run(tx -> {
                Attempts.purge(tx, now.minus(Duration.ofHours(25))); // a link's tries count for a day
                SignIns.purge(tx, now).forEach(id -> Events.say(tx, LiveEvents.SIGNED_OUT, id.toString()));
                Operators.forgetSources(tx, now.minus(Duration.ofDays(30)));
                Replays.purge(tx, now.minus(Duration.ofDays(1)));
                Jobs.purge(tx, now.minus(JobRoutes.KEEP));
                Handouts.eraseExpired(tx, now);
                Standings.refresh(tx); // what is due stays little, though nobody looks
                endCustody(tx, now);
                Sessions.ensureMonth(tx, now);
                Sessions.ensureMonth(tx, now.plus(Duration.ofDays(20)));
            });
        }
    }

    private void endCustody(Tx tx, Instant now) {
        if (settings.custodyDays() > 0) {
            for (UUID profile : Custody.erase(tx, now.minus(Duration.ofDays(settings.custodyDays())), now)) {
                Events.say(tx, "profile", profile.toString());
                Journal.append(tx, now, "tender", "key-erased", "profile", profile.toString(), "collected and in use");
            }
        }
    }

    @Override
    public void close() throws IOException {
        closing = true; // a load balancer sends nothing new here
        events.close(); // open streams end before the web listener does, not on its torn-down requests
        vantageWaits.close();
        jobWaits.close();
        web.stop();
        metricsPort.ifPresent(MetricsPort::close);
        staff.ifPresent(StaffPage::close);
        polling.close();
        keeper.close();
        jobs.close();
        reconciler.close();
        boxes.close();
        db.close();
        folder.close();
    }
}
