package tender.service.profile;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.UUID;
import tender.service.certificate.CertificateModule;
import tender.service.device.DeviceModule;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.job.JobKind;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.service.office.OfficeRecords;
import tender.store.backup.Backups;
import tender.store.credential.Credentials;
import tender.store.credential.Custody;
import tender.store.event.Events;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.profile.Revisions;
import tender.store.profile.Standings;

/** Profiles: issued, renewed, withdrawn, and their files. */
public final class ProfileModule implements NodeModule {
    private final Node node;
    private final Gateways gateways;
    private final Credentials credentials;
    private final Revisions revisions;
    private final ByHand byHand;
    private final Issuing issuing;
    private final Withdrawing withdrawing;
    private final Renewing renewing;
    private final Canaries canaries;
    private final ProfileFiles files;
    private final Sheets sheets;
    private final RequestedFiles requested;

    public ProfileModule(
            Node node, DeviceModule devices, OfficeRecords records, CertificateModule signing, Backups backups) {
        this.node = node;
        this.gateways = devices.gateways();
        this.credentials = new Credentials(node.cipher());
        this.revisions = new Revisions(node.cipher());
        OpenVpnProfiles certified = new OpenVpnProfiles(
                gateways,
                records,
                devices.descriptions(),
                backups,
                signing.signers(),
                signing.revoking(),
                signing.certificates());
        this.byHand = new ByHand(gateways, devices.descriptions());
        ProfileKinds kinds = new ProfileKinds(credentials, revisions, certified, byHand);
        this.issuing = new Issuing(node.db(), gateways, kinds);
        this.withdrawing = new Withdrawing(node.db(), credentials, revisions, kinds);
        this.renewing = new Renewing(node.db(), gateways, credentials, kinds);
        this.canaries = new Canaries(node.db(), gateways, kinds, renewing);
        this.files = new ProfileFiles(node.db(), credentials, revisions);
        this.sheets = new Sheets(node.db());
        this.requested = new RequestedFiles(node.db(), gateways);
    }

    public Credentials credentials() {
        return credentials;
    }

    public Canaries canaries() {
        return canaries;
    }

    public ProfileFiles files() {
        return files;
    }

    public Withdrawing withdrawing() {
        return withdrawing;
    }

    public ByHand byHand() {
        return byHand;
    }

    public KeptProfiles kept() {
        return new KeptProfiles(issuing, renewing);
    }

    public Sheets sheets() {
        return sheets;
    }

    public ImportedProfiles imported() {
        return new ImportedProfiles(credentials, revisions);
    }

    @Override
    public List<Route> routes() {
        return Routes.of(
                new ProfileRoutes(node.db(), gateways, issuing, renewing, withdrawing),
                new FileRequestRoutes(requested),
                new GrantRoutes(node.db(), gateways, renewing),
                new SettingsRoutes(files, sheets));
    }

    @Override
    public List<JobKind> jobs() {
        return List.of(
                new ProfileExpiry(node.db(), node.clock(), byHand),
                new AutomaticRenewal(node.db(), node.clock(), renewing, requested));
    }

    @Override
    public void ensure(Tx tx, Instant now) {
        AutomaticRenewal.ensure(tx);
        Standings.refresh(tx); // after an upgrade all are due
    }

    @Override
    public void upkeep(Tx tx, Instant now) {
        Standings.refresh(tx); // what is due stays little, though nobody looks
        int days = node.settings().custodyDays();
        if (days > 0) {
            for (UUID profile : Custody.erase(tx, now.minus(Duration.ofDays(days)), now)) {
                Events.say(tx, "profile", profile);
                Journal.append(tx, By.tender(now), "key-erased", "profile", profile, "collected and in use");
            }
        }
    }
}
