package tender.service.adopt;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import tender.api.AdoptApi;
import tender.api.InspectApi;
import tender.api.ProblemCode;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.inspect.Bundle;
import tender.core.inspect.Hint;
import tender.core.inspect.Inspection;
import tender.core.inspect.Inspector;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.office.Protocol;
import tender.core.profile.IkeProfile;
import tender.core.profile.OpenVpnFile;
import tender.core.profile.SingleFile;
import tender.core.repair.IkeRepairs;
import tender.core.repair.OpenVpnRepairs;
import tender.core.repair.RepairRule;
import tender.core.repair.Repaired;
import tender.core.repair.Target;
import tender.core.repair.WireGuardRepairs;
import tender.core.walk.Approach;
import tender.core.walk.Called;
import tender.core.wire.Budget;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;
import tender.core.wire.Sha256;
import tender.service.http.ApiFailure;
import tender.service.office.ListenerChoice;
import tender.service.office.OfficeRecords;
import tender.service.profile.AdoptedProfiles;
import tender.service.profile.Grant;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Sites;
import tender.store.profile.Archives;

/** Takes a gateway's own client files in: inspected, matched to devices, mended by rule, kept as they came. */
public final class Adopting {
    private final Db db;
    private final OfficeRecords records;
    private final Archives archives;
    private final AdoptedProfiles profiles;

    public Adopting(Db db, OfficeRecords records, Archives archives, AdoptedProfiles profiles) {
        this.db = db;
        this.records = records;
        this.archives = archives;
        this.profiles = profiles;
    }

    private static final Map<Inspection.Kind, Protocol> ADOPTED = Map.of(
            Inspection.Kind.OPENVPN_CLIENT, Protocol.OPENVPN,
            Inspection.Kind.WIREGUARD_CLIENT, Protocol.WIREGUARD,
            Inspection.Kind.IKEV2, Protocol.IKEV2);

    /** A client file out of what was sent, in one piece; {@code lacking} says why it is not whole. */
    private record Candidate(
            String path, Protocol protocol, String text, Inspection inspection, Optional<String> lacking) {
        String folder() {
            int slash = path.lastIndexOf('/');
            return slash < 0 ? "" : path.substring(path.lastIndexOf('/', slash - 1) + 1, slash);
        }
    }

    /** Takes a file or archive in and says what became of each client file in it. */
    public AdoptApi.Adopted adopt(
            Gateways.Gateway gateway, AdoptApi.Adopt request, byte[] content, String actor, Instant now) {
        boolean dryRun = request.dryRun().orElse(false);
        String name = Fields.title("name", request.name().orElse("export of " + gateway.name()));
        List<Candidate> candidates = candidates(name, content, request.passphrase(), now);
        if (candidates.isEmpty()) {
            throw new ApiFailure(ProblemCode.MALFORMED, "no client file is inside", "content");
        }
        Office office = records.withoutHoldings(now);
        Function<Tx, AdoptApi.Adopted> work =
                tx -> adopt(tx, gateway, request, content, name, candidates, office, actor, now);
        return dryRun ? db.rehearse(work) : db.inTransaction(work);
    }

    private AdoptApi.Adopted adopt(
            Tx tx,
            Gateways.Gateway gateway,
            AdoptApi.Adopt request,
            byte[] content,
            String name,
            List<Candidate> candidates,
            Office office,
            String actor,
            Instant now) {
        Owners owners = Owners.read(tx);
        List<AdoptApi.File> files = new ArrayList<>();
        Round round = new Round(
                tx, gateway, office, request, Refused.of(request.refuse().orElse(List.of())), actor, now);
        for (Candidate c : candidates) {
            files.add(one(round, owners, c));
        }
        int adopted =
                (int) files.stream().filter(f -> f.state().equals("adopted")).count();
        archives.put(tx, gateway.id(), name, Sha256.hex(content), content, actor, now);
        Journal.append(
                tx, now, actor, "files-adopted", "gateway", gateway.id().toString(), adopted + " of " + files.size());
        int asked = (int) files.stream().filter(f -> f.state().equals("asked")).count();
        return new AdoptApi.Adopted(files, adopted, asked);
    }

    /** Repairs that were refused, for every file or for one. */
    private record Refused(Set<RepairRule> everywhere, Map<String, Set<RepairRule>> byPath) {
        /** @param words rules, or {@code PATH=RULE} */
        static Refused of(List<String> words) {
            Set<RepairRule> everywhere = EnumSet.noneOf(RepairRule.class);
            Map<String, Set<RepairRule>> byPath = new HashMap<>();
            for (String word : words) {
                int equals = word.lastIndexOf('=');
                RepairRule rule = rule(word.substring(equals + 1));
                if (equals < 0) {
                    everywhere.add(rule);
                } else {
                    byPath.computeIfAbsent(word.substring(0, equals), p -> EnumSet.noneOf(RepairRule.class))
                            .add(rule);
                }
            }
            return new Refused(everywhere, byPath);
        }

        Set<RepairRule> of(String path) {
            Set<RepairRule> out = EnumSet.copyOf(byPath.getOrDefault(path, EnumSet.noneOf(RepairRule.class)));
            out.addAll(everywhere);
            return out;
        }

        private static RepairRule rule(String code) {
            for (RepairRule rule : RepairRule.values()) {
                if (rule.code().equals(code)) {
                    return rule;
                }
            }
            throw new MalformedException("rule", "refuse", "no such rule of repair");
        }
    }

    private static List<Candidate> candidates(String name, byte[] content, Optional<Secret> passphrase, Instant now) {
        Budget budget = new Budget();
        Map<String, byte[]> files = new LinkedHashMap<>();
        if (Bundle.looksLike(content)) {
            files.putAll(Bundle.read(content, budget));
        } else {
            files.put(name, content);
        }
        List<Candidate> out = new ArrayList<>();
        Map<String, Map<String, byte[]>> folders = new LinkedHashMap<>();
        files.forEach((path, bytes) -> folders.computeIfAbsent(folder(path), f -> new LinkedHashMap<>())
                .put(path.substring(path.lastIndexOf('/') + 1), bytes));
        Map<String, Map<String, byte[]>> besides = new HashMap<>();
        folders.forEach((folder, own) -> {
            Map<String, byte[]> all = new LinkedHashMap<>(folders.getOrDefault("", Map.of()));
            all.putAll(own);
            besides.put(folder, all);
        });
        files.forEach((path, bytes) -> {
            Inspection first = Inspector.of(path, bytes, now, Optional.empty(), budget);
            Protocol protocol = ADOPTED.get(first.kind());
            if (protocol != null) {
                String text = new String(bytes, StandardCharsets.ISO_8859_1);
                out.add(candidate(path, protocol, text, besides.get(folder(path)), first, passphrase, now, budget));
            }
        });
        return out;
    }

    private static String folder(String path) {
        return path.substring(0, Math.max(0, path.lastIndexOf('/')));
    }

    private static Candidate candidate(
            String path,
            Protocol protocol,
            String text,
            Map<String, byte[]> beside,
            Inspection alone,
            Optional<Secret> passphrase,
            Instant now,
            Budget budget) {
        try {
            String whole = switch (protocol) {
                case OPENVPN ->
                    SingleFile.inlined(OpenVpnFile.read(text).file(), beside).text();
                case IKEV2 -> IkeProfile.of(text, beside).text();
                default -> text;
            };
            boolean again = protocol == Protocol.OPENVPN && (!whole.equals(text) || passphrase.isPresent());
            Inspection of = again
                    ? Inspector.of(
                            path,
                            whole.getBytes(StandardCharsets.ISO_8859_1),
                            now,
                            passphrase.map(p -> p.revealText(RevealSecret.TO_COMPARE)),
                            budget)
                    : alone;
            return new Candidate(path, protocol, whole, of, Optional.empty());
        } catch (MalformedException e) {
            return new Candidate(path, protocol, text, alone, Optional.of(e.getMessage()));
        }
    }

    private static Repaired repaired(Candidate c, Target target) {
        return switch (c.protocol()) {
            case OPENVPN -> OpenVpnRepairs.of(c.text(), target);
            case IKEV2 -> {
                IkeProfile whole = IkeProfile.read(c.text());
                Repaired section = IkeRepairs.of(whole.section(), target);
                yield new Repaired(
                        new IkeProfile(section.text(), whole.certificate(), whole.key(), whole.authority()).text(),
                        section.repairs());
            }
            default -> WireGuardRepairs.of(c.text(), target);
        };
    }

    /** What is the same for all files of one adoption; each listener is looked at once. */
    private static final class Round {
        private final Tx tx;
        private final Gateways.Gateway gateway;
        private final Office office;
        private final AdoptApi.Adopt request;
        private final Refused refused;
        private final String actor;
        private final Instant now;
        private final Map<String, Target> targets = new HashMap<>();
        private final Map<String, AdoptedProfiles.Taken> taken = new HashMap<>();
        private final Map<String, Grant.Rules> grants = new HashMap<>();

        private Round(
                Tx tx,
                Gateways.Gateway gateway,
                Office office,
                AdoptApi.Adopt request,
                Refused refused,
                String actor,
                Instant now) {
            this.tx = tx;
            this.gateway = gateway;
            this.office = office;
            this.request = request;
            this.refused = refused;
            this.actor = actor;
            this.now = now;
        }

        /** What is the same for everyone, and what the owner's team is granted. */
        private Target target(Candidate c, Optional<Owners.Owner> owner) {
            Listener listener = listener(office, gateway, request.listener(), c);
            Target all = targets.computeIfAbsent(
                    listener.name(),
                    name -> new Target(
                            listener,
                            Called.endpoints(
                                    Approach.chain(
                                            office,
                                            office.gateway(gateway.name()).orElseThrow()),
                                    listener),
                            Optional.empty(),
                            List.of(),
                            Set.of()));
            Grant grant = grant(listener, owner);
            return new Target(all.listener(), all.calls(), grant.ownReach(), grant.dns(), refused.of(c.path()));
        }

        /** What the owner gets at a listener. */
        private Grant grant(Listener listener, Optional<Owners.Owner> owner) {
            return grants.computeIfAbsent(
                            listener.name(),
                            name -> new Grant.Rules(
                                    tx,
                                    Sites.byId(tx, gateway.siteId()).orElseThrow(),
                                    taken(listener).listener()))
                    .of(owner.flatMap(o -> o.person().team()));
        }

        private AdoptedProfiles.Taken taken(Listener listener) {
            return taken.computeIfAbsent(listener.name(), name -> AdoptedProfiles.Taken.of(tx, gateway, listener));
        }
    }

    private AdoptApi.File one(Round round, Owners owners, Candidate c) {
        AdoptApi.Adopt request = round.request;
        Optional<Owners.Owner> owner = owner(owners, c, request.assign().orElse(Map.of()));
        Target target = round.target(c, owner);
        Repaired repaired = c.lacking().isPresent() ? new Repaired(c.text(), List.of()) : repaired(c, target);
        List<Inspection.Note> dangerous = c.inspection().notes().stream()
                .filter(n -> n.hint().isHeldBack())
                .toList();
        String state;
        String why = "";
        Optional<String> label = Optional.empty();
        if (c.lacking().isPresent()) {
            state = "refused";
            why = c.lacking().get();
        } else if (isLocked(c)) {
            state = "asked";
            why = "its key store is locked: give its passphrase (--passphrase-fd N), which is not kept";
        } else if (!dangerous.isEmpty()
                && request.decision().filter(d -> !d.isBlank()).isEmpty()) {
            state = "held-back";
            why = dangerous.get(0).hint().says() + " (line " + dangerous.get(0).line() + "); say why it may stay";
        } else if (owner.isEmpty()) {
            state = "asked";
            why = "whose it is cannot be told; say it: --assign '" + c.path() + "=PERSON/DEVICE'";
        } else {
            try {
                state = "adopted";
                label = Optional.of(profiles.adopt(
                        round.tx,
                        round.taken(target.listener()),
                        new AdoptedProfiles.Adopted(
                                round.gateway,
                                target.listener(),
                                owner.get().person().handle(),
                                owner.get().device(),
                                c.protocol(),
                                c.text(),
                                repaired.text(),
                                target.calls(),
                                target.dns(),
                                round.grant(target.listener(), owner).life(),
                                own(c),
                                dangerous.isEmpty()
                                        ? Optional.empty()
                                        : request.decision().map(reason -> lines(dangerous) + ": " + reason)),
                        round.actor,
                        round.now));
            } catch (MalformedException | ApiFailure e) {
                state = "refused";
                why = e.getMessage();
            }
        }
        return new AdoptApi.File(
                c.path(),
                state,
                why,
                owner.map(o -> o.person().handle()),
                owner.map(o -> o.device().name()),
                owner.map(Owners.Owner::matchedBy),
                label,
                repaired.repairs().stream()
                        .map(r -> new AdoptApi.Repair(
                                r.rule().code(), r.rule().reason(), r.line(), r.before(), r.after()))
                        .toList(),
                InspectApi.Report.of(c.inspection()).files().get(0).notes().stream()
                        .filter(n -> c.lacking().isPresent() || !n.code().equals(Hint.PART_ELSEWHERE.code()))
                        .toList());
    }

    private static boolean isLocked(Candidate c) {
        return c.protocol() == Protocol.OPENVPN && c.inspection().asksPassphrase() && own(c).isEmpty();
    }

    /** The certificate that the file's device shows. */
    private static Optional<CertificateFacts> own(Candidate c) {
        return c.inspection().certificates().stream()
                .filter(f -> f.role() != CertificateFacts.Role.AUTHORITY)
                .findFirst();
    }

    private static String lines(List<Inspection.Note> dangerous) {
        return dangerous.stream()
                .map(n -> n.hint().code() + " in line " + n.line())
                .collect(Collectors.joining(", "));
    }

    /** The one that was said, the one that the file's folder is named after, or the only one of its kind. */
    private static Listener listener(
            Office office, Gateways.Gateway gateway, Optional<String> name, Candidate candidate) {
        String protocol = candidate.protocol().word();
        List<Listener> ofKind = office.gateway(gateway.name()).orElseThrow().device().listeners().stream()
                .filter(l -> l.protocol() == candidate.protocol())
                .toList();
        Optional<String> meant = name.or(() -> Optional.of(candidate.folder())
                .filter(f -> ofKind.stream().anyMatch(l -> l.name().equals(f))));
        return ListenerChoice.only(gateway.name(), protocol + " listener", ofKind, Listener::name, meant);
    }

    private static Optional<Owners.Owner> owner(Owners owners, Candidate c, Map<String, String> assign) {
        if (assign.containsKey(c.path())) {
            return Optional.of(owners.said(assign.get(c.path()))
                    .orElseThrow(() -> new MalformedException(
                            "assign", "assign", "there is no such person and device; it is written PERSON/DEVICE")));
        }
        List<CertificateFacts> certificates =
                c.protocol() == Protocol.IKEV2 && c.lacking().isEmpty()
                        ? IkeProfile.read(c.text())
                                .certificate()
                                .map(t -> List.of(CertificateFacts.of(
                                        PemText.read(t).blocks().get(0).der())))
                                .orElse(List.of())
                        : c.inspection().certificates();
        for (CertificateFacts certificate : certificates) {
            Optional<Owners.Owner> by = certificate.role() == CertificateFacts.Role.AUTHORITY
                    ? Optional.empty()
                    : owners.named(certificate.commonName(), "certificate");
            if (by.isPresent()) {
                return by;
            }
        }
        String file = c.path().substring(c.path().lastIndexOf('/') + 1);
        int dot = file.lastIndexOf('.');
        return owners.named((dot > 0 ? file.substring(0, dot) : file).toLowerCase(Locale.ROOT), "file name");
    }
}
