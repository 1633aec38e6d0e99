package tender.service.importing;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import tender.core.inspect.Inspection;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.proposal.ClientFile;
import tender.core.proposal.OwnerName;
import tender.core.proposal.Proposal;
import tender.core.repair.Repaired;
import tender.core.repair.Target;
import tender.core.walk.Approach;
import tender.core.walk.Called;
import tender.core.wire.MalformedException;
import tender.service.office.ListenerChoice;
import tender.service.profile.Grant;
import tender.service.profile.ImportedFile;
import tender.service.profile.ImportedProfiles;
import tender.service.refusal.Refused;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.office.Sites;
import tender.store.profile.FileRequests;

/** One fileImport of many files, in one transaction; what is the same for all is looked at once. */
final class ImportRun {
    private final Tx tx;
    private final Office office;
    private final ImportOrder order;
    private final ImportedProfiles profiles;
    private final Owners owners;
    private final Set<String> words;
    private final By by;
    private final Map<String, Target> targets = new HashMap<>();
    private final Map<String, ImportedProfiles.Taken> taken = new HashMap<>();
    private final Map<String, Grant.Rules> grants = new HashMap<>();

    ImportRun(Tx tx, Office office, ImportOrder order, ImportedProfiles profiles, By by) {
        this.tx = tx;
        this.office = office;
        this.order = order;
        this.profiles = profiles;
        this.owners = Owners.read(tx, FileRequests.devices(tx, order.gateway().id()));
        this.words = OwnerName.words(
                List.of(),
                office.gateway(order.gateway().name())
                        .map(g -> g.name() + " " + g.site())
                        .orElse(""));
        this.by = by;
    }

    /** @throws MalformedException where somebody is named whose file it should be and who is not there */
    FileImport of(ClientFile c) {
        return with(c, owner(c));
    }

    /** @param proposed whose it is, who is in the records; empty where nothing tells */
    FileImport of(ClientFile c, Optional<Proposal.Owner> proposed) {
        return with(c, proposed.flatMap(o -> owners.proposed(o)));
    }

    private FileImport with(ClientFile c, Optional<Owners.Owner> owner) {
        Target target = target(c, owner);
        Repaired repaired = c.repaired(target);
        FileImport.Outcome outcome =
                reasonAgainst(c, owner).orElseGet(() -> imported(c, owner.orElseThrow(), target, repaired));
        return new FileImport(c, owner, repaired, outcome);
    }

    private Optional<FileImport.Outcome> reasonAgainst(ClientFile c, Optional<Owners.Owner> owner) {
        if (c.lacking().isPresent()) {
            return Optional.of(new FileImport.Declined(c.lacking().get()));
        }
        if (c.isRevoked()) {
            return Optional.of(new FileImport.Declined(
                    "its certificate is revoked by a list that was given with it; request a new file"));
        }
        if (c.isLocked()) {
            return Optional.of(
                    new FileImport.Asked(
                            "its key store is locked: give its passphrase (--passphrase-fd N), which is kept only if you say so"));
        }
        List<Inspection.Note> dangerous = c.dangerous();
        if (!dangerous.isEmpty() && order.decision().isEmpty()) {
            return Optional.of(new FileImport.HeldBack(dangerous.get(0).hint().says() + " (line "
                    + dangerous.get(0).line() + "); say why it may stay"));
        }
        return owner.isEmpty()
                ? Optional.of(new FileImport.Asked(
                        "whose it is cannot be told; say it: --assign '" + c.path() + "=PERSON/DEVICE'"))
                : Optional.empty();
    }

    private FileImport.Outcome imported(ClientFile c, Owners.Owner owner, Target target, Repaired repaired) {
        List<Inspection.Note> dangerous = c.dangerous();
        try {
            ImportedFile imported = new ImportedFile(
                    order.gateway(),
                    target.listener(),
                    owner.person().handle(),
                    owner.device(),
                    c.protocol(),
                    c.text(),
                    repaired.text(),
                    target.calls(),
                    target.dns(),
                    grant(target.listener(), Optional.of(owner)).life(),
                    c.own(),
                    c.needsPassphrase()
                            ? order.unlocking().filter(Unlocking::kept).map(Unlocking::passphrase)
                            : Optional.empty(),
                    dangerous.isEmpty()
                            ? Optional.empty()
                            : order.decision().map(reason -> lines(dangerous) + ": " + reason));
            ImportedProfiles.Taken taken = taken(target.listener());
            if (taken.has(imported)) {
                return new FileImport.Present(imported.label());
            }
            ImportedProfiles.Made made = profiles.importFile(tx, taken, imported, by);
            return new FileImport.Imported(made.label(), made.renewed());
        } catch (MalformedException | Refused e) {
            return new FileImport.Declined(e.getMessage());
        }
    }

    private static String lines(List<Inspection.Note> dangerous) {
        return dangerous.stream()
                .map(n -> n.hint().code() + " in line " + n.line())
                .collect(Collectors.joining(", "));
    }

    /** What is the same for everyone, and what the owner's team is granted. */
    private Target target(ClientFile c, Optional<Owners.Owner> owner) {
        Listener listener = listener(c);
        Target all = targets.computeIfAbsent(
                listener.name(),
                name -> new Target(
                        listener, Called.endpoints(chain(), listener), Optional.empty(), List.of(), Set.of()));
        Grant grant = grant(listener, owner);
        return new Target(
                all.listener(),
                all.calls(),
                grant.ownReach(),
                grant.dns(),
                order.refused().of(c.path()));
    }

    private Approach.Chain chain() {
        return Approach.chain(office, office.gateway(order.gateway().name()).orElseThrow());
    }

    /** What the owner gets at a listener. */
    private Grant grant(Listener listener, Optional<Owners.Owner> owner) {
        return grants.computeIfAbsent(
                        listener.name(),
                        name -> new Grant.Rules(
                                tx,
                                Sites.byId(tx, order.gateway().siteId()).orElseThrow(),
                                taken(listener).listener()))
                .of(owner.flatMap(o -> o.person().team()));
    }

    private ImportedProfiles.Taken taken(Listener listener) {
        return taken.computeIfAbsent(listener.name(), name -> ImportedProfiles.Taken.of(tx, order.gateway(), listener));
    }

    /** The one that was said, the one that the file's folder is named after, or the only one of its kind. */
    private Listener listener(ClientFile candidate) {
        String gateway = order.gateway().name();
        List<Listener> ofKind = office.gateway(gateway).orElseThrow().device().listeners().stream()
                .filter(l -> l.protocol() == candidate.protocol())
                .toList();
        Optional<String> meant = order.listener()
                .or(() -> Optional.of(candidate.folder())
                        .filter(f -> ofKind.stream().anyMatch(l -> l.name().equals(f))));
        return ListenerChoice.only(gateway, candidate.protocol().word() + " listener", ofKind, Listener::name, meant);
    }

    /** Whoever was said, else whom the first of its names means. */
    private Optional<Owners.Owner> owner(ClientFile c) {
        if (order.assign().containsKey(c.path())) {
            return Optional.of(owners.said(order.assign().get(c.path()))
                    .orElseThrow(() -> new MalformedException(
                            "assign", "assign", "there is no such person and device; it is written PERSON/DEVICE")));
        }
        return OwnerName.of(c, words).stream()
                .flatMap(n -> owners.named(n).stream())
                .findFirst();
    }
}
