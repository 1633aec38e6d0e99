package tender.service.handout;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import tender.core.certificate.CertificateFacts;
import tender.core.credential.RevealSecret;
import tender.core.handout.Fitness;
import tender.core.inspect.Inspection;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.office.Protocol;
import tender.core.profile.IkeProfile;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.WireGuardFile;
import tender.core.walk.Approach;
import tender.core.walk.Called;
import tender.core.walk.Fit;
import tender.core.walk.KnownNetworks;
import tender.core.wire.MalformedException;
import tender.service.office.OfficeRecords;
import tender.service.profile.LookedInto;
import tender.service.profile.ProfileFiles;
import tender.service.profile.Sheets;
import tender.store.certificate.Authorities;
import tender.store.certificate.Certificates;
import tender.store.certificate.Revocations;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.office.Listeners;
import tender.store.profile.ProfileState;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;

/** Gathers what is known of a profile's file and asks whether it is fit to be handed out. Every way out passes here. */
final class FitGate {
    private static final Port IKE = new Port(500);
    private static final Set<Protocol> FILES = Set.of(Protocol.WIREGUARD, Protocol.OPENVPN, Protocol.IKEV2);

    private final Db db;
    private final OfficeRecords records;
    private final ProfileFiles files;
    /** Networks that count as outside although they are private: where the gateways of a demo or a test are. */
    private final List<Cidr> outside;

    FitGate(Db db, OfficeRecords records, ProfileFiles files, List<Cidr> outside) {
        this.db = db;
        this.records = records;
        this.files = files;
        this.outside = List.copyOf(outside);
    }

    /** A revision and what speaks against handing it out. */
    record Judged(ProfileFiles.Newest file, List<Fitness.Reason> reasons) {
        boolean isFit() {
            return reasons.isEmpty();
        }
    }

    /** The office and the revoked serials as they are now, read once for as many profiles as are judged. */
    final class Round {
        private final Instant now;
        private final Office office;
        private final KnownNetworks known;
        private final Map<CertificateFacts, Set<String>> revoked;

        private Round(Instant now) {
            this.now = now;
            this.office = records.withoutProfiles(now);
            this.known = new KnownNetworks(office);
            this.revoked = db.inTransaction(tx -> Authorities.all(tx).stream()
                    .collect(Collectors.toMap(
                            a -> CertificateFacts.of(a.certificate()),
                            a -> Revocations.all(tx, a.id(), now).stream()
                                    .map(Certificates.Revoked::serial)
                                    .collect(Collectors.toSet()),
                            (a, b) -> a)));
        }

        Judged judge(UUID profileId, Optional<Integer> revision) {
            ProfileFiles.Newest file = files.revision(profileId, revision);
            return new Judged(file, Fitness.reasons(facts(file), now));
        }

        private Fitness.Facts facts(ProfileFiles.Newest file) {
            Profiles.Profile p = file.profile();
            Protocol protocol = Sheets.protocol(file);
            String text = file.content().revealText(RevealSecret.TO_HAND_OUT);
            Optional<Office.Gateway> gateway = office.gateway(p.gateway());
            Optional<Listener> listener = gateway.flatMap(g -> g.device().listener(p.listener()));
            List<Endpoint> told = listener.map(l -> Called.endpoints(Approach.chain(office, gateway.get()), l))
                    .orElse(List.of());
            List<Inspection> content = FILES.contains(protocol) ? List.of(LookedInto.of(file, now)) : List.of();
            return db.inTransaction(tx -> new Fitness.Facts(
                    standing(p.state()),
                    p.problem()
                            .or(() -> p.handWork()
                                    .map(w ->
                                            w.words(p.gateway(), p.handWorkOn().orElse(""))))
                            .orElse(""),
                    Profiles.expires(tx, p.id()),
                    file.revision().number(),
                    p.revision(),
                    listener.isEmpty() || isGone(tx, p.listenerId()),
                    listener.map(l -> differences(file, gateway.get().site(), l, told))
                            .orElse(List.of()),
                    failedTrial(p, file.revision()),
                    calls(protocol, text, told),
                    outside,
                    office.names(),
                    content,
                    Profiles.decision(tx, p.id()).isPresent(),
                    revokedIn(content)));
        }

        private List<String> differences(
                ProfileFiles.Newest file, String site, Listener listener, List<Endpoint> told) {
            Office.IssuedProfile issued = file.issued();
            return Stream.concat(
                            Fit.differences(listener, told, issued).stream(), Fit.gone(known, site, issued).stream())
                    .map(Fit.Difference::words)
                    .toList();
        }

        private List<String> revokedIn(List<Inspection> content) {
            List<String> out = new ArrayList<>();
            for (Inspection inspection : content) {
                inspection
                        .certificates()
                        .forEach(c -> revoked.forEach((authority, serials) -> {
                            if (c.isIssuedBy(authority) && serials.contains(c.serial())) {
                                out.add(c.serial());
                            }
                        }));
                out.addAll(revokedIn(inspection.parts()));
            }
            return out;
        }
    }

    Round round(Instant now) {
        return new Round(now);
    }

    private static Fitness.Standing standing(ProfileState state) {
        return switch (state) {
            case READY -> Fitness.Standing.READY;
            case FAILED -> Fitness.Standing.FAILED;
            case WRITING, WAITING -> Fitness.Standing.NOT_WRITTEN;
            case WITHDRAWING, CLOSING, WITHDRAWN -> Fitness.Standing.WITHDRAWN;
        };
    }

    private static boolean isGone(Tx tx, UUID listenerId) {
        return Listeners.byId(tx, listenerId).filter(l -> !l.gone()).isEmpty();
    }

    private static Optional<String> failedTrial(Profiles.Profile p, Revisions.Revision r) {
        return p.lastTrialAt()
                .filter(at -> at.isAfter(r.createdAt()))
                .filter(at -> !p.lastTrialWorks().orElse(true))
                .map(at -> "tried " + at);
    }

    /** What the file itself calls; where its kind has no file, what people are told to type. */
    private static List<Endpoint> calls(Protocol protocol, String text, List<Endpoint> told) {
        try {
            return switch (protocol) {
                case WIREGUARD ->
                    WireGuardFile.read(text).file().peers().stream()
                            .flatMap(p -> p.endpoint().stream())
                            .toList();
                case OPENVPN ->
                    OpenVpnClient.read(text).calls().stream()
                            .flatMap(c -> c.endpoint().stream())
                            .toList();
                case IKEV2 ->
                    IkeProfile.read(text).says("", "remote_addrs").stream()
                            .flatMap(addresses -> Arrays.stream(addresses.split("\\s*,\\s*")))
                            .map(host -> new Endpoint(Host.parse(host), IKE, Transport.UDP))
                            .toList();
                default -> told;
            };
        } catch (MalformedException e) {
            return List.of(); // what cannot be read calls nobody
        }
    }
}
