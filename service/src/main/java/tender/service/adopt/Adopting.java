package tender.service.adopt;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import tender.api.AdoptApi;
import tender.api.InspectApi;
import tender.api.ProblemCode;
import tender.core.certificate.CertificateFacts;
import tender.core.inspect.Bundle;
import tender.core.inspect.Inspection;
import tender.core.inspect.Inspector;
import tender.core.network.Endpoint;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.profile.OpenVpnFile;
import tender.core.profile.SingleFile;
import tender.core.repair.OpenVpnRepairs;
import tender.core.repair.RepairRule;
import tender.core.repair.Repaired;
import tender.core.repair.Target;
import tender.core.repair.WireGuardRepairs;
import tender.core.walk.Approach;
import tender.core.walk.Called;
import tender.core.wire.MalformedException;
import tender.service.http.ApiFailure;
import tender.service.office.OfficeRecords;
import tender.service.profile.AdoptedProfiles;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
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

    /** A client file out of what was sent, in one piece. */
    private record Candidate(String path, String text, Inspection inspection) {}

    AdoptApi.Adopted adopt(
            Gateways.Gateway gateway, AdoptApi.Adopt request, byte[] content, String actor, Instant now) {
        boolean dryRun = request.dryRun().orElse(false);
        Set<RepairRule> refused =
                request.refuse().orElse(List.of()).stream().map(Adopting::rule).collect(Collectors.toSet());
        String name = request.name().orElse("export of " + gateway.name());
        List<Candidate> candidates = candidates(name, content, now);
        if (candidates.isEmpty()) {
            throw new ApiFailure(ProblemCode.MALFORMED, "no client file is inside", "content");
        }
        Office office = records.withoutHoldings(now);
        return db.inTransaction(tx -> {
            Owners owners = Owners.read(tx);
            List<AdoptApi.File> files = new ArrayList<>();
            for (Candidate c : candidates) {
                files.add(one(tx, gateway, office, owners, c, request, refused, dryRun, actor, now));
            }
            int adopted = (int)
                    files.stream().filter(f -> f.state().equals("adopted")).count();
            if (!dryRun) {
                archives.put(tx, gateway.id(), name, AdoptedProfiles.digest(content), content, actor, now);
                Journal.append(
                        tx,
                        now,
                        actor,
                        "files-adopted",
                        "gateway",
                        gateway.id().toString(),
                        adopted + " of " + files.size()
                                + request.decision()
                                        .map(d -> "; dangerous lines let stay: " + d)
                                        .orElse(""));
            }
            int asked =
                    (int) files.stream().filter(f -> f.state().equals("asked")).count();
            return new AdoptApi.Adopted(files, adopted, asked);
        });
    }

    private static RepairRule rule(String code) {
        for (RepairRule rule : RepairRule.values()) {
            if (rule.code().equals(code)) {
                return rule;
            }
        }
        throw new MalformedException("rule", "refuse", "no such rule of repair");
    }

    private static List<Candidate> candidates(String name, byte[] content, Instant now) {
        Map<String, byte[]> files = new LinkedHashMap<>();
        if (Bundle.looksLike(content)) {
            files.putAll(Bundle.read(content));
        } else {
            files.put(name, content);
        }
        Map<String, byte[]> beside = new LinkedHashMap<>();
        files.forEach((path, bytes) -> beside.put(path.substring(path.lastIndexOf('/') + 1), bytes));
        List<Candidate> out = new ArrayList<>();
        files.forEach((path, bytes) -> {
            Inspection first = Inspector.of(path, bytes, now, Optional.empty());
            if (first.kind() == Inspection.Kind.OPENVPN_CLIENT || first.kind() == Inspection.Kind.WIREGUARD_CLIENT) {
                String text = new String(bytes, StandardCharsets.ISO_8859_1);
                String whole = first.kind() == Inspection.Kind.OPENVPN_CLIENT
                        ? SingleFile.inlined(OpenVpnFile.read(text).file(), beside)
                                .text()
                        : text;
                out.add(new Candidate(
                        path,
                        whole,
                        Inspector.of(path, whole.getBytes(StandardCharsets.ISO_8859_1), now, Optional.empty())));
            }
        });
        return out;
    }

    private AdoptApi.File one(
            Tx tx,
            Gateways.Gateway gateway,
            Office office,
            Owners owners,
            Candidate c,
            AdoptApi.Adopt request,
            Set<RepairRule> refused,
            boolean dryRun,
            String actor,
            Instant now) {
        boolean openVpn = c.inspection().kind() == Inspection.Kind.OPENVPN_CLIENT;
        Listener listener = listener(office, gateway, request.listener(), openVpn ? "openvpn" : "wireguard");
        List<Endpoint> calls = Called.endpoints(
                Approach.chain(office, office.gateway(gateway.name()).orElseThrow()), listener);
        Target target = new Target(listener, calls, Optional.empty(), refused);
        Repaired repaired = openVpn ? OpenVpnRepairs.of(c.text(), target) : WireGuardRepairs.of(c.text(), target);
        Optional<Owners.Owner> owner = owner(owners, c, request.assign().orElse(Map.of()));
        List<Inspection.Note> dangerous = c.inspection().notes().stream()
                .filter(n -> n.hint().isDangerous())
                .toList();
        String state;
        String why = "";
        Optional<String> label = Optional.empty();
        if (!dangerous.isEmpty() && request.decision().filter(d -> !d.isBlank()).isEmpty()) {
            state = "held-back";
            why = dangerous.get(0).hint().says() + " (line " + dangerous.get(0).line() + "); say why it may stay";
        } else if (owner.isEmpty()) {
            state = "asked";
            why = "whose it is cannot be told; say it: --assign '" + c.path() + "=PERSON/DEVICE'";
        } else {
            try {
                state = "adopted";
                label = Optional.of(
                        dryRun
                                ? AdoptedProfiles.label(
                                        owner.get().person().handle(),
                                        owner.get().device().name(),
                                        gateway)
                                : profiles.adopt(
                                        tx,
                                        new AdoptedProfiles.Adopted(
                                                gateway,
                                                listener,
                                                owner.get().person().handle(),
                                                owner.get().device(),
                                                openVpn,
                                                c.text(),
                                                repaired.text(),
                                                calls),
                                        actor,
                                        now));
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
                InspectApi.Report.of(c.inspection()).files().get(0).notes());
    }

    private static Listener listener(Office office, Gateways.Gateway gateway, Optional<String> name, String protocol) {
        List<Listener> fitting = office.gateway(gateway.name()).orElseThrow().device().listeners().stream()
                .filter(l -> l.protocol().word().equals(protocol))
                .filter(l -> name.isEmpty() || l.name().equals(name.get()))
                .toList();
        if (fitting.size() != 1) {
            throw new ApiFailure(
                    ProblemCode.NOT_FOUND,
                    gateway.name()
                            + (fitting.isEmpty() ? " has no such " : " has several ")
                            + protocol
                            + (fitting.isEmpty() ? " listener" : " listeners; name one"),
                    "listener");
        }
        return fitting.get(0);
    }

    private static Optional<Owners.Owner> owner(Owners owners, Candidate c, Map<String, String> assign) {
        if (assign.containsKey(c.path())) {
            return Optional.of(owners.said(assign.get(c.path()))
                    .orElseThrow(() -> new MalformedException(
                            "assign", "assign", "there is no such person and device; it is written PERSON/DEVICE")));
        }
        for (CertificateFacts certificate : c.inspection().certificates()) {
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
