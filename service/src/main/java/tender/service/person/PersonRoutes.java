package tender.service.person;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Function;
import tender.api.Page;
import tender.api.PersonApi;
import tender.api.ProblemCode;
import tender.core.language.StaffTexts;
import tender.core.person.PeopleComparison;
import tender.core.person.PeopleList;
import tender.core.wire.Fields;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.profile.ProfileView;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.Journal;
import tender.store.person.People;
import tender.store.profile.Profiles;

/** People and their devices. */
public final class PersonRoutes implements Routes {
    private final Db db;

    public PersonRoutes(Db db) {
        this.db = db;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.page(
                                "/people",
                                Role.READERS,
                                "People by handle; ?text= a part of name, handle or mail address, ?team= a name",
                                PersonApi.Person.class,
                                call -> Cursor.byName(
                                        call,
                                        People.SORTS,
                                        slice -> db.inTransaction(
                                                tx -> People.page(tx, call.text(), call.query("team"), slice)),
                                        People.Person::handle,
                                        all -> all.stream()
                                                .map(p -> render(p, List.of(), List.of()))
                                                .toList()))
                        .sortedBy(People.SORTS.keySet()),
                Route.page(
                        "/teams",
                        Role.READERS,
                        "Teams by name",
                        PersonApi.Team.class,
                        call -> Cursor.byName(
                                call,
                                (after, limit) -> db.inTransaction(tx -> People.teams(tx, after, limit)),
                                People.Team::name,
                                all -> all.stream()
                                        .map(t -> new PersonApi.Team(t.name(), t.people()))
                                        .toList())),
                Route.post(
                        "/teams/{name}",
                        Role.WRITERS,
                        "Rename a team; its people and grants stay",
                        PersonApi.SetTeam.class,
                        PersonApi.Team.class,
                        this::renameTeam),
                Route.page(
                        "/languages",
                        Role.READERS,
                        "Languages of what is handed out",
                        PersonApi.Language.class,
                        call -> Answer.ok(new Page<>(
                                StaffTexts.languages().stream()
                                        .map(l -> new PersonApi.Language(
                                                l, StaffTexts.of(l).get("language")))
                                        .toList(),
                                Optional.empty()))),
                Route.get(
                        "/people/{handle}",
                        Role.READERS,
                        "A person with devices and profiles",
                        PersonApi.Person.class,
                        call -> answer(find(call).id())),
                Route.post(
                        "/people",
                        Role.WRITERS,
                        "Add a person",
                        PersonApi.AddPerson.class,
                        PersonApi.Person.class,
                        this::add),
                Route.post(
                        "/people/import",
                        Role.WRITERS,
                        "Import people and devices from a table or a directory's export (LDIF), again and again; all or nothing",
                        PersonApi.ImportPeople.class,
                        PersonApi.Imported.class,
                        this::bringIn),
                Route.patch(
                        "/people/{handle}",
                        Role.WRITERS,
                        "Change a person",
                        PersonApi.SetPerson.class,
                        PersonApi.Person.class,
                        this::set),
                Route.post(
                        "/people/{handle}/devices",
                        Role.WRITERS,
                        "Add a device",
                        PersonApi.AddDevice.class,
                        PersonApi.Device.class,
                        this::addDevice),
                Route.post(
                        "/people/{handle}/devices/{device}",
                        Role.WRITERS,
                        "Change a device: its name, kind and system",
                        PersonApi.SetDevice.class,
                        PersonApi.Device.class,
                        this::setDevice));
    }

    private People.Person find(Call call) {
        return db.inTransaction(tx -> People.byHandle(tx, call.path("handle")))
                .orElseThrow(() -> ApiFailure.notFound("person"));
    }

    private Answer answer(UUID id) {
        return db.inTransaction(tx -> {
            People.Person person = People.byId(tx, id).orElseThrow(() -> ApiFailure.notFound("person"));
            return Answer.ok(
                    render(person, People.devices(tx, List.of(id)), Profiles.ofPerson(tx, id)), person.version());
        });
    }

    private static PersonApi.Person render(
            People.Person p, List<People.Device> devices, List<Profiles.Profile> profiles) {
        return new PersonApi.Person(
                p.id().toString(),
                p.handle(),
                p.name(),
                p.mail(),
                p.team(),
                p.language(),
                p.devices(),
                devices.stream().map(PersonRoutes::render).toList(),
                profiles.stream().map(ProfileView::render).toList(),
                p.createdAt(),
                p.version());
    }

    private static PersonApi.Device render(People.Device d) {
        return new PersonApi.Device(d.id().toString(), d.name(), d.kind(), d.system());
    }

    private Answer add(Call call) {
        PersonApi.AddPerson request = call.body(PersonApi.AddPerson.class);
        People.Person person = new People.Person(
                Ids.next(),
                Fields.name("handle", request.handle()),
                Fields.title("name", request.name()),
                Fields.optionalTitle("mail", request.mail()),
                request.team().map(t -> Fields.name("team", t)),
                request.language().flatMap(PersonRoutes::language),
                0,
                call.now(),
                1);
        db.run(tx -> {
            People.insert(tx, person);
            told(tx, call, person.id(), "person-added");
        });
        return Answer.created(render(person, List.of(), List.of()));
    }

    /** Empty for none: the browser's of whoever collects. */
    private static Optional<String> language(String text) {
        return Optional.of(text)
                .filter(l -> !l.isEmpty())
                .map(l -> StaffTexts.of(l).language());
    }

    /** Empty for none. */
    private static Optional<String> team(String text) {
        return Optional.of(text).filter(t -> !t.isEmpty()).map(t -> Fields.name("team", t));
    }

    private static void told(Tx tx, Call call, UUID personId, String action) {
        Events.say(tx, "person", personId);
        Journal.append(tx, call.by(), action, "person", personId, "");
    }

    private Answer bringIn(Call call) {
        PersonApi.ImportPeople request = call.body(PersonApi.ImportPeople.class);
        List<PeopleList.Line> lines = PeopleList.read(Fields.given("csv", request.csv()));
        boolean dryRun = request.dryRun().orElse(false);
        Function<Tx, PeopleComparison> work = tx -> PeopleImport.write(tx, lines, call.by());
        PeopleComparison c = dryRun ? db.rehearse(work) : db.inTransaction(work);
        return Answer.ok(new PersonApi.Imported(
                c.count(false, PeopleComparison.Kind.ADDED),
                c.count(true, PeopleComparison.Kind.ADDED),
                c.count(false, PeopleComparison.Kind.CHANGED) + c.count(true, PeopleComparison.Kind.CHANGED),
                c.count(false, PeopleComparison.Kind.UNCHANGED) + c.count(true, PeopleComparison.Kind.UNCHANGED),
                c.changes().stream()
                        .filter(x -> x.kind() != PeopleComparison.Kind.UNCHANGED)
                        .map(x -> new PersonApi.ImportedLine(
                                x.line().number(),
                                x.line().handle(),
                                x.device(),
                                x.kind().name().toLowerCase(Locale.ROOT),
                                x.fields()))
                        .toList(),
                c.gone(),
                dryRun));
    }

    private Answer set(Call call) {
        PersonApi.SetPerson request = call.body(PersonApi.SetPerson.class);
        int version = call.version();
        People.Person person = find(call);
        db.run(tx -> {
            People.set(
                    tx,
                    new People.Person(
                            person.id(),
                            request.handle().map(h -> Fields.name("handle", h)).orElse(person.handle()),
                            request.name().map(n -> Fields.title("name", n)).orElse(person.name()),
                            request.mail()
                                    .map(m -> Fields.optionalTitle("mail", Optional.of(m)))
                                    .orElse(person.mail()),
                            request.team().map(PersonRoutes::team).orElse(person.team()),
                            request.language().map(PersonRoutes::language).orElse(person.language()),
                            person.devices(),
                            person.createdAt(),
                            version));
            told(tx, call, person.id(), "person-changed");
        });
        return answer(person.id());
    }

    private Answer renameTeam(Call call) {
        String name = Fields.name("name", call.body(PersonApi.SetTeam.class).name());
        int people = db.inTransaction(tx -> {
            if (!People.renameTeam(tx, call.path("name"), name)) {
                throw ApiFailure.notFound("team");
            }
            Events.say(tx, "person", "-");
            Journal.append(
                    tx, call.by(), "team-changed", "team", name, call.path("name") + " is called " + name + " now");
            return People.ofTeam(tx, name).size();
        });
        return Answer.ok(new PersonApi.Team(name, people));
    }

    private Answer addDevice(Call call) {
        PersonApi.AddDevice request = call.body(PersonApi.AddDevice.class);
        People.Person person = find(call);
        String kind = kind(Fields.required("kind", request.kind()));
        People.Device device = new People.Device(
                Ids.next(),
                person.id(),
                person.handle(),
                Fields.name("name", request.name()),
                kind,
                Fields.optionalTitle("system", request.system()),
                1);
        db.run(tx -> {
            People.insert(tx, device);
            told(tx, call, person.id(), "device-added");
        });
        return Answer.created(render(device));
    }

    private static String kind(String kind) {
        if (!PeopleList.KINDS.contains(kind)) {
            throw new ApiFailure(
                    ProblemCode.MALFORMED, "kind is one of " + String.join(", ", PeopleList.KINDS), "kind");
        }
        return kind;
    }

    private Answer setDevice(Call call) {
        PersonApi.SetDevice request = call.body(PersonApi.SetDevice.class);
        People.Person person = find(call);
        People.Device device = db.inTransaction(tx -> {
            People.Device d = People.devices(tx, List.of(person.id())).stream()
                    .filter(one -> one.name().equals(call.path("device")))
                    .findFirst()
                    .orElseThrow(() -> ApiFailure.notFound("device"));
            String kind = request.kind().map(PersonRoutes::kind).orElse(d.kind());
            String system = request.system()
                    .map(t -> Fields.optionalTitle("system", Optional.of(t)))
                    .orElse(d.system());
            String name = request.name().map(n -> Fields.name("name", n)).orElse(d.name());
            People.Device changed =
                    new People.Device(d.id(), person.id(), d.person(), name, kind, system, d.version() + 1);
            People.set(tx, changed);
            told(tx, call, person.id(), "device-changed");
            return changed;
        });
        return Answer.ok(render(device));
    }
}
