package tender.service.removal;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.service.device.DeviceDescriptions;
import tender.service.event.LiveEvents;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Descriptions;
import tender.store.office.Gateways;
import tender.store.office.Sites;
import tender.store.operator.Operators;
import tender.store.operator.SignIns;
import tender.store.person.People;
import tender.store.removal.Archive;
import tender.store.trial.Trials;

/** Plans removals and carries them out. What still works for somebody is never removed under them. */
final class Removing {
    private static final int SHOWN = 5;

    private final Db db;
    private final Gateways gateways;
    private final DeviceDescriptions descriptions;

    Removing(Db db, Gateways gateways, DeviceDescriptions descriptions) {
        this.db = db;
        this.gateways = gateways;
        this.descriptions = descriptions;
    }

    /** What a removal would do; {@code carryOut} runs in the transaction that looked. */
    record Plan(String kind, String id, String what, List<String> effects, List<String> obstacles, Step carryOut) {}

    /** What is done in the transaction. */
    @FunctionalInterface
    interface Step {
        void run(Tx tx, By by);
    }

    /** Looks for one thing and plans its removal; throws where there is no such thing. */
    @FunctionalInterface
    interface Planner {
        Plan plan(Tx tx);
    }

    Plan preview(Planner planner) {
        return db.inTransaction(planner::plan);
    }

    /** @throws Refused where something stands against it */
    void remove(Planner planner, By by) {
        db.run(tx -> {
            Plan plan = planner.plan(tx);
            if (!plan.obstacles().isEmpty()) {
                throw new Refused(Refused.Kind.CONFLICT, String.join("; ", plan.obstacles()), plan.kind());
            }
            plan.carryOut().run(tx, by);
            Events.say(tx, plan.kind(), plan.id());
            Journal.append(tx, by, plan.kind() + "-removed", plan.kind(), plan.id(), plan.what());
        });
    }

    Plan person(Tx tx, String handle) {
        People.Person p = People.byHandle(tx, handle).orElseThrow(() -> Refused.notFound("person"));
        List<People.Device> devices = People.devices(tx, List.of(p.id()));
        List<String> effects = new ArrayList<>();
        devices.forEach(d -> effects.add("the device " + d.name() + " goes with them"));
        effects.add("who had which file stays in the journal and in the history of profiles");
        return new Plan(
                "person",
                p.id().toString(),
                p.name() + " (" + handle + ")",
                effects,
                active(Archive.profilesOfPerson(tx, p.id())),
                (t, by) -> Archive.person(t, p.id(), by.at()));
    }

    Plan device(Tx tx, String handle, String name) {
        People.Person p = People.byHandle(tx, handle).orElseThrow(() -> Refused.notFound("person"));
        People.Device d = People.devices(tx, List.of(p.id())).stream()
                .filter(one -> one.name().equals(name))
                .findFirst()
                .orElseThrow(() -> Refused.notFound("device"));
        return new Plan(
                "device",
                d.id().toString(),
                handle + "'s " + name,
                List.of("who had which file stays in the journal and in the history of profiles"),
                active(Archive.profilesOfDevice(tx, d.id())),
                (t, by) -> Archive.device(t, d.id(), by.at()));
    }

    private static List<String> active(List<String> profiles) {
        return profiles.isEmpty()
                ? List.of()
                : List.of("not withdrawn yet: " + some(profiles) + "; tender profile withdraw " + profiles.get(0));
    }

    Plan vantage(Tx tx, String name) {
        if (Trials.vantages(tx).stream()
                .noneMatch(v -> v.name().equals(name) && v.kind().equals("standing"))) {
            throw Refused.notFound("standing vantage");
        }
        Archive.TrialsFrom trials = Archive.trialsFrom(tx, name);
        List<String> obstacles = new ArrayList<>();
        if (Archive.vantageSignsIn(tx, name)) {
            obstacles.add("it can still sign in and would come back: tender operator disable " + name);
        }
        if (trials.open() > 0) {
            obstacles.add(trials.open() + (trials.open() == 1 ? " trial waits" : " trials wait") + " for it");
        }
        return new Plan(
                "vantage",
                name,
                name,
                List.of("no trial runs from it any more; the " + trials.all() + " that did keep its name"),
                obstacles,
                (t, by) -> Archive.vantage(t, name, by.at()));
    }

    Plan gateway(Tx tx, UUID id) {
        Gateways.Gateway g = gateways.byId(tx, id).orElseThrow(() -> Refused.notFound("gateway"));
        List<String> obstacles = new ArrayList<>();
        List<String> profiles = Archive.profilesAt(tx, id);
        if (!profiles.isEmpty()) {
            obstacles.add("people connect through it: " + some(profiles) + "; tender profile withdraw "
                    + profiles.get(0) + ", or move them: tender profile renew");
        }
        List<String> relying = Archive.relyingOn(tx, id);
        if (!relying.isEmpty()) {
            obstacles.add("reached through it: " + some(relying) + "; tender gateway set " + relying.get(0)
                    + " --uplink or --jump");
        }
        return new Plan(
                "gateway",
                id.toString(),
                g.name(),
                List.of(
                        "Tender no longer reads, tries or changes it, and erases what it signs in with",
                        "its monitors and findings go; its backups and the history of its profiles stay",
                        "profiles that were being withdrawn there count as withdrawn",
                        "nothing is changed on the device: the accounts and keys that Tender uses there have to be removed on it"),
                obstacles,
                (t, by) -> {
                    Archive.gateway(t, id, by.at());
                    gateways.forgetSignIn(t, id);
                });
    }

    Plan site(Tx tx, UUID id) {
        Sites.Site s = Sites.byId(tx, id).orElseThrow(() -> Refused.notFound("site"));
        List<String> there = Archive.gatewaysAt(tx, id);
        return new Plan(
                "site",
                id.toString(),
                s.name(),
                List.of("its networks are no longer part of the company's addresses"),
                there.isEmpty()
                        ? List.of()
                        : List.of("gateways stand there: " + some(there) + "; tender gateway remove " + there.get(0)),
                (t, by) -> Archive.site(t, id, by.at()));
    }

    /** @param remover who removes: nobody removes themself */
    Plan operator(Tx tx, String name, UUID remover) {
        Operators.Operator o = Operators.byName(tx, name).orElseThrow(() -> Refused.notFound("operator"));
        List<String> obstacles = new ArrayList<>();
        if (o.id().equals(remover)) {
            obstacles.add("this is your own account; another owner removes it");
        } else if (Operators.owners(tx).equals(List.of(o.id()))) {
            obstacles.add(name + " is the last owner who may sign in; make another one first");
        }
        return new Plan(
                "operator",
                o.id().toString(),
                "operator " + name,
                List.of("all sign-ins and tokens end", "the journal keeps what " + name + " did"),
                obstacles,
                (t, by) -> {
                    SignIns.deleteOthers(t, o.id(), Optional.empty())
                            .forEach(id -> Events.say(t, LiveEvents.SIGNED_OUT, id));
                    Archive.operator(t, o.id(), by.at());
                });
    }

    Plan team(Tx tx, String name) {
        if (People.teams(tx, "", Integer.MAX_VALUE).stream()
                .noneMatch(t -> t.name().equals(name))) {
            throw Refused.notFound("team");
        }
        List<String> people = Archive.peopleOf(tx, name);
        return new Plan(
                "team",
                name,
                name,
                List.of("its grants go"),
                people.isEmpty()
                        ? List.of()
                        : List.of("people belong to it: " + some(people) + "; tender person set " + people.get(0)
                                + " --team OTHER"),
                (t, by) -> Archive.team(t, name));
    }

    Plan description(Tx tx, String name) {
        if (descriptions.shipped().containsKey(name)) {
            throw new Refused(
                    Refused.Kind.CONFLICT, "a description that ships with Tender cannot be removed", "description");
        }
        Descriptions.byName(tx, name).orElseThrow(() -> Refused.notFound("device description"));
        List<String> using = Archive.described(tx, name);
        return new Plan(
                "device-description",
                name,
                name,
                List.of("it can no longer be given to gateways"),
                using.isEmpty()
                        ? List.of()
                        : List.of("gateways use it: " + some(using) + "; tender gateway set " + using.get(0)
                                + " --description OTHER"),
                (t, by) -> Archive.description(t, name));
    }

    private static String some(List<String> names) {
        return String.join(", ", names.subList(0, Math.min(SHOWN, names.size())))
                + (names.size() > SHOWN ? " and " + (names.size() - SHOWN) + " more" : "");
    }
}
