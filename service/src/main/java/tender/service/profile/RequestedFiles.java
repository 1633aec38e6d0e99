package tender.service.profile;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.function.Function;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.person.People;
import tender.store.profile.FileRequests;
import tender.store.profile.FileRequests.FileRequest;
import tender.store.profile.FileRequests.Reason;

/** Requests client files that only the gateway itself can make. */
final class RequestedFiles {
    private static final Duration AHEAD = Duration.ofDays(30);
    private static final int AT_ONCE = 1_000;
    /** No list of requests is longer. */
    static final int MOST = 1_000;

    private final Db db;
    private final Gateways gateways;

    RequestedFiles(Db db, Gateways gateways) {
        this.db = db;
        this.gateways = gateways;
    }

    /**
     * Whose files are wanted.
     *
     * @param devices as {@code ana/laptop}, or {@code ana} where she has one device
     */
    record Order(UUID gatewayId, List<String> devices, Optional<String> team) {}

    /**
     * Requests files; those that are requested already stay as they are.
     *
     * @return all that is requested at the gateway
     * @throws Refused where a person or device is not there, or none is meant
     */
    List<FileRequest> ask(Order order, By by) {
        return db.inTransaction(asking(order, by));
    }

    /** What {@link #ask} would give; nothing of it is kept. */
    List<FileRequest> rehearse(Order order, By by) {
        return db.rehearse(asking(order, by));
    }

    private Function<Tx, List<FileRequest>> asking(Order order, By by) {
        return tx -> {
            Gateways.Gateway gateway =
                    gateways.byId(tx, order.gatewayId()).orElseThrow(() -> Refused.notFound("gateway"));
            Set<UUID> asked = FileRequests.devices(tx, gateway.id());
            List<People.Device> wanted = devices(tx, order).stream()
                    .filter(d -> !asked.contains(d.id()))
                    .toList();
            for (People.Device d : wanted) {
                FileRequests.put(tx, gateway.id(), d.id(), Reason.NEW, by);
            }
            if (!wanted.isEmpty()) {
                Events.say(tx, "gateway", gateway.id());
                Journal.append(tx, by, "files-requested", "gateway", gateway.id(), wanted.size() + " client files");
            }
            return FileRequests.at(tx, gateway.id());
        };
    }

    private static List<People.Device> devices(Tx tx, Order order) {
        Set<People.Device> out = new LinkedHashSet<>();
        for (String said : order.devices()) {
            out.add(device(tx, said));
        }
        order.team().ifPresent(team -> out.addAll(ofTeam(tx, order.gatewayId(), team)));
        if (out.isEmpty()) {
            throw new Refused(
                    Refused.Kind.MALFORMED,
                    order.team().isPresent()
                            ? "every device of team " + order.team().get() + " has a profile there already"
                            : "say whose files: devices as PERSON/DEVICE, or a team",
                    "devices");
        }
        return List.copyOf(out);
    }

    private static People.Device device(Tx tx, String said) {
        String[] parts = said.split("/", 2);
        People.Person person = People.byHandle(tx, parts[0])
                .orElseThrow(() -> new Refused(Refused.Kind.NOT_FOUND, "there is no person " + parts[0], "devices"));
        List<People.Device> own = People.devices(tx, List.of(person.id())).stream()
                .filter(d -> parts.length == 1 || d.name().equals(parts[1]))
                .toList();
        if (own.size() != 1) {
            throw new Refused(
                    parts.length == 1 && !own.isEmpty() ? Refused.Kind.MALFORMED : Refused.Kind.NOT_FOUND,
                    own.isEmpty()
                            ? person.handle() + " has no device" + (parts.length == 1 ? "" : " " + parts[1])
                            : person.handle() + " has " + own.size() + " devices; write " + person.handle() + "/"
                                    + own.get(0).name(),
                    "devices");
        }
        return own.get(0);
    }

    private static List<People.Device> ofTeam(Tx tx, UUID gatewayId, String team) {
        List<People.Person> people = People.ofTeam(tx, team);
        if (people.isEmpty()) {
            throw new Refused(Refused.Kind.NOT_FOUND, "there is nobody in team " + team, "team");
        }
        Set<UUID> have = FileRequests.having(tx, gatewayId);
        List<People.Device> out = new ArrayList<>(
                People.devices(tx, people.stream().map(People.Person::id).toList()));
        out.removeIf(d -> have.contains(d.id()));
        return out;
    }

    List<FileRequest> at(UUID gatewayId) {
        return db.inTransaction(tx -> FileRequests.at(tx, gatewayId));
    }

    List<FileRequest> all() {
        return db.inTransaction(tx -> FileRequests.all(tx, MOST));
    }

    /** @throws Refused where it was received or cancelled meanwhile */
    void cancel(UUID id, By by) {
        db.run(tx -> {
            FileRequest r = FileRequests.byId(tx, id).orElseThrow(() -> Refused.notFound("file request"));
            FileRequests.cancel(tx, id);
            Events.say(tx, "gateway", r.gatewayId());
            Journal.append(tx, by, "file-request-cancelled", "gateway", r.gatewayId(), r.handle() + "/" + r.device());
        });
    }

    /** Requests new files for devices whose imported certificates end within a month. */
    void askAhead(Instant now) {
        By by = By.tender(now);
        db.run(tx -> {
            for (FileRequests.Place p : FileRequests.ending(tx, AHEAD, now, AT_ONCE)) {
                FileRequests.put(tx, p.gatewayId(), p.deviceId(), Reason.RENEWAL, by);
                Events.say(tx, "gateway", p.gatewayId());
                Journal.append(tx, by, "file-requested-ahead", "gateway", p.gatewayId(), "its certificate ends");
            }
        });
    }
}
