package tender.service.provision;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.Passphrase;
import tender.core.credential.PasswordHash;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.handout.LinkToken;
import tender.core.provision.VerifyingKey;
import tender.service.http.Costly;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.operator.FailedAttempts;
import tender.store.provision.DeviceCalls;

/** Lets a device join with the token of a provisioning file. Every try is counted before the work. */
final class Enrolling {
    static final Duration WINDOW = Duration.ofMinutes(10);
    static final int MAX_PER_SOURCE = 20;
    static final int MAX_CODES = 8;

    private final Db db;
    private final Costly costly;

    Enrolling(Db db, Costly costly) {
        this.db = db;
        this.costly = costly;
    }

    /**
     * A device that wants to join.
     *
     * @param enrolment what it calls itself by, made by it
     * @param person who joins, with a team's file
     */
    record Asked(
            UUID enrolment,
            VerifyingKey key,
            byte[] sealingKey,
            Secret token,
            Optional<String> person,
            Optional<Secret> code,
            String device,
            String system) {}

    record Joined(UUID enrolment, String device) {}

    /** @throws Refused that says which: no such token, ended, withdrawn, used by another device, no such person or a wrong code */
    Joined join(Asked asked, String from, Instant now) {
        String digest = LinkToken.digest(asked.token());
        Optional<DeviceCalls.Provision> known = db.inTransaction(tx -> DeviceCalls.provision(tx, digest));
        UUID claim = claim(known, digest, from, now);
        DeviceCalls.Provision file = known.orElseThrow(() -> new Refused(
                Refused.Kind.NOT_FOUND, "no provisioning file of this service has that token; ask for a new file"));
        if (file.withdrawn()) {
            throw refused("the provisioning file was withdrawn; ask for a new one");
        }
        if (now.isAfter(file.ends())) {
            throw refused("the provisioning file ended at " + file.ends() + "; ask for a new one");
        }
        DeviceCalls.Person person = person(file, asked, from);
        String device = file.deviceName().orElse(asked.device());
        UUID enrolment = db.inTransaction(tx -> {
                    Optional<UUID> id = DeviceCalls.enrol(
                            tx,
                            new DeviceCalls.Joining(
                                    asked.enrolment(),
                                    file.id(),
                                    person.id(),
                                    file.deviceId(),
                                    device,
                                    asked.system(),
                                    asked.key().bytes(),
                                    asked.sealingKey()),
                            now);
                    id.ifPresent(e -> {
                        FailedAttempts.right(tx, claim);
                        Events.say(tx, "enrolment", e);
                    });
                    return id;
                })
                .orElseThrow(() ->
                        refused("the provisioning file was used by another device; it is for one: ask for a new file"));
        return new Joined(enrolment, device);
    }

    private DeviceCalls.Person person(DeviceCalls.Provision file, Asked asked, String from) {
        if (file.ofTeam() && asked.person().isEmpty()) {
            throw new Refused(Refused.Kind.MALFORMED, "who joins is missing: the file is a whole team's", "person");
        }
        DeviceCalls.Person person = db.inTransaction(tx -> DeviceCalls.person(tx, file.id(), asked.person()))
                .orElse(null);
        if (file.ofTeam() && (person == null || person.codeHash().isEmpty())) {
            throw wrong();
        }
        if (person == null) {
            throw Refused.notFound("person");
        }
        if (person.codeHash().isPresent()) {
            Secret code = asked.code()
                    .map(c -> Secret.of(Passphrase.normalise(c.revealText(RevealSecret.TO_COMPARE))))
                    .orElseThrow(() -> new Refused(
                            Refused.Kind.CODE_NEEDED,
                            "the code is missing that you were told beside the file",
                            "code"));
            if (!costly.run(
                    from, () -> PasswordHash.matches(code, person.codeHash().get()))) {
                throw wrong();
            }
        }
        return person;
    }

    private static Refused wrong() {
        return new Refused(Refused.Kind.WRONG_SIGN_IN, "handle or code is wrong");
    }

    private static Refused refused(String words) {
        return new Refused(Refused.Kind.NOT_ALLOWED, words);
    }

    /** Tries with tokens that nobody has count for where they come from; tries with a file's token for file and source. */
    private UUID claim(Optional<DeviceCalls.Provision> known, String digest, String from, Instant now) {
        FailedAttempts.Limit limit = known.isEmpty()
                ? new FailedAttempts.Limit("collect:" + from, MAX_PER_SOURCE, WINDOW)
                : new FailedAttempts.Limit("link:" + digest.substring(0, 32) + ":" + from, MAX_CODES, WINDOW);
        FailedAttempts.Claimed claimed = db.inTransaction(tx -> FailedAttempts.claim(tx, List.of(limit), now));
        claimed.exceeded().ifPresent(l -> {
            throw Refused.retry(Refused.Kind.TOO_MANY, "too many wrong attempts from your address; wait a while", (int)
                    l.within().toSeconds());
        });
        return claimed.claim();
    }
}
