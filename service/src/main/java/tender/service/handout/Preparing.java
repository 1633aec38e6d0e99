package tender.service.handout;

import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.core.certificate.KeyStoreFile;
import tender.core.credential.Passphrase;
import tender.core.credential.Secret;
import tender.core.handout.Fitness;
import tender.core.handout.LinkToken;
import tender.core.handout.Parcel;
import tender.service.profile.ProfileFiles;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.handout.Handouts;
import tender.store.handout.ParcelContent;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.person.People;
import tender.store.profile.Revisions;

/** Prepares handouts of files that are fit, and of others where somebody says why. */
final class Preparing {
    private final Db db;
    private final ProfileFiles files;
    private final Contents contents;
    private final FitGate gate;
    private final SecureRandom random;

    Preparing(Db db, ProfileFiles files, Contents contents, FitGate gate, SecureRandom random) {
        this.db = db;
        this.files = files;
        this.contents = contents;
        this.gate = gate;
        this.random = random;
    }

    /** How a handout is made. */
    record Terms(Duration life, int collections, KeyStoreFile.Form form) {}

    /** A handout with what is shown once. */
    record Made(UUID id, Secret token, Secret passphrase) {}

    /** What came of many. */
    record Many(List<Made> made, List<FitGate.Judged> fit, List<FitGate.Judged> unfit) {}

    /** @param override why it is handed out although it is not fit */
    Made one(UUID profileId, Optional<Integer> revision, Optional<String> override, Terms terms, By by) {
        FitGate.Judged judged = gate.round(by.at()).judge(profileId, revision);
        if (!judged.isFit() && override.isEmpty()) {
            throw new Refused(
                    Refused.Kind.UNFIT, judged.file().profile().label() + ": " + words(judged.reasons()), "profile");
        }
        return make(judged, override.filter(o -> !judged.isFit()), terms, by);
    }

    Many many(List<UUID> profiles, Terms terms, boolean dryRun, By by) {
        FitGate.Round round = gate.round(by.at());
        List<Made> made = new ArrayList<>();
        List<FitGate.Judged> fit = new ArrayList<>();
        List<FitGate.Judged> unfit = new ArrayList<>();
        for (UUID id : profiles) {
            FitGate.Judged judged = round.judge(id, Optional.empty());
            (judged.isFit() ? fit : unfit).add(judged);
        }
        if (!dryRun) {
            fit.forEach(judged -> made.add(make(judged, Optional.empty(), terms, by)));
        }
        return new Many(made, fit, unfit);
    }

    private Made make(FitGate.Judged judged, Optional<String> override, Terms terms, By by) {
        ProfileFiles.Newest file = judged.file();
        Secret token = LinkToken.generate(random);
        Secret passphrase = Passphrase.generate(random);
        Parcel parcel = Parcel.seal(
                ParcelContent.DOCUMENT
                        .write(content(file, passphrase, terms.form()))
                        .getBytes(StandardCharsets.UTF_8),
                token,
                passphrase,
                random);
        UUID id = Ids.next();
        db.run(tx -> {
            Handouts.insert(
                    tx,
                    new Handouts.Draft(
                            id,
                            file.profile().id(),
                            file.revision().id(),
                            LinkToken.digest(token),
                            parcel,
                            by.at(),
                            by.at().plus(terms.life()),
                            terms.collections()));
            Events.say(tx, "handout", id);
            Journal.append(
                    tx,
                    by,
                    override.isPresent() ? "handout-prepared-unfit" : "handout-prepared",
                    "handout",
                    id,
                    words(judged, override));
        });
        return new Made(id, token, passphrase);
    }

    /** What the journal says of it: which revision, and why it was handed out where it does not fit. */
    private static String words(FitGate.Judged judged, Optional<String> override) {
        String unfit = judged.reasons().stream().map(r -> r.unfit().code()).collect(Collectors.joining(", "));
        Revisions.Revision revision = judged.file().revision();
        return "revision " + revision.number() + ", " + revision.digest()
                + override.map(why -> "; not fit: " + unfit + "; handed out because: " + why)
                        .orElse("");
    }

    static String words(List<Fitness.Reason> reasons) {
        return reasons.stream()
                .map(r -> r.unfit().code() + " (" + r.unfit().words()
                        + (r.detail().isEmpty() ? "" : " " + r.detail()) + ")")
                .collect(Collectors.joining("; "));
    }

    /** What somebody gets of it, in their language. */
    ParcelContent content(ProfileFiles.Newest newest, Secret passphrase, KeyStoreFile.Form form) {
        Contents.Reader reader = newest.profile()
                .deviceId()
                .flatMap(id -> db.inTransaction(tx -> People.device(tx, id)
                        .map(d -> new Contents.Reader(
                                d.kind(), People.byId(tx, d.personId()).flatMap(People.Person::language)))))
                .orElse(new Contents.Reader("laptop", Optional.empty()));
        return contents.of(newest, files.typed(newest.profile()), reader, passphrase, form);
    }
}
