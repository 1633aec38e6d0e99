package tender.service.collect;

import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.handout.LinkToken;
import tender.core.handout.Parcel;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.handout.ParcelContent;
import tender.store.handout.Pickups;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.operator.FailedAttempts;

/** Opens parcels for whoever has link and passphrase, as often as they may be collected. */
final class Collecting {
    static final Duration WINDOW = Duration.ofMinutes(10);
    static final int MAX_PER_SOURCE = 20;
    static final int MAX_PER_LINK_AND_SOURCE = 8;
    static final int MAX_PER_LINK = 200;
    private static final Duration DAY = Duration.ofDays(1);
    private static final Duration SLOW = Duration.ofMinutes(1);

    private final Db db;
    private final Runnable collected;
    /** Opened in place of a parcel that is not there, so that both take the same time. */
    private final Parcel nothing;

    /** @param collected called when something was */
    Collecting(Db db, Runnable collected) {
        this.db = db;
        this.collected = collected;
        SecureRandom random = new SecureRandom();
        this.nothing = Parcel.ofNobody(1_024, random);
    }

    /** Every try is counted before the work; live and dead links take the same time. */
    private static boolean counted(Tx tx, UUID handoutId, UUID claim, String digest, String from, Instant now) {
        boolean ok = Pickups.collect(tx, handoutId, digest, from, now);
        if (ok) {
            FailedAttempts.right(tx, claim);
            Events.say(tx, "handout", handoutId);
        }
        return ok;
    }

    ParcelContent open(Secret token, Secret passphrase, String from, Instant now) {
        String digest = LinkToken.digest(token);
        Optional<Pickups.Pickup> pickup = db.inTransaction(tx -> Pickups.find(tx, digest, now));
        UUID claim = claim(digest, pickup, from, now);
        Parcel parcel = pickup.map(p -> new Parcel(p.salt(), p.parcel())).orElse(nothing);
        Optional<byte[]> opened = parcel.open(token, passphrase.revealText(RevealSecret.TO_HAND_OUT));
        boolean counted = pickup.isPresent()
                && opened.isPresent()
                && db.inTransaction(tx -> counted(tx, pickup.get().handoutId(), claim, digest, from, now));
        if (!counted) {
            db.run(tx -> Pickups.tried(tx, pickup.map(Pickups.Pickup::handoutId), false, from, now));
            throw new Refused(
                    Refused.Kind.LINK_OPENS_NOTHING, "the passphrase is wrong, or the link has expired or was used");
        }
        collected.run();
        return ParcelContent.DOCUMENT.read(new String(opened.get(), StandardCharsets.UTF_8));
    }

    /**
     * A guesser's tries at links that lead nowhere count for where they come from, and never against somebody beside them who
     * has a link; tries at a link count for link and source. Beyond so many in all, a link opens slowly and for everyone.
     */
    private UUID claim(String digest, Optional<Pickups.Pickup> pickup, String from, Instant now) {
        String link = "link:" + digest.substring(0, 32);
        List<FailedAttempts.Limit> limits = pickup.isEmpty()
                ? List.of(new FailedAttempts.Limit("collect:" + from, MAX_PER_SOURCE, WINDOW))
                : db.inTransaction(tx -> FailedAttempts.since(tx, link, now.minus(DAY))) < MAX_PER_LINK
                        ? List.of(
                                new FailedAttempts.Limit(link + ":" + from, MAX_PER_LINK_AND_SOURCE, WINDOW),
                                new FailedAttempts.Limit(link, Integer.MAX_VALUE, DAY))
                        : List.of(
                                new FailedAttempts.Limit(link + ":" + from, 1, SLOW),
                                new FailedAttempts.Limit(link, Integer.MAX_VALUE, DAY));
        FailedAttempts.Claimed claimed = db.inTransaction(tx -> FailedAttempts.claim(tx, limits, now));
        claimed.exceeded().ifPresent(limit -> {
            db.run(tx -> {
                if (FailedAttempts.isFirstRefusal(tx, limit, now)) {
                    Pickups.tried(tx, pickup.map(Pickups.Pickup::handoutId), true, from, now);
                }
            });
            throw Refused.retry(Refused.Kind.TOO_MANY, "too many wrong attempts from your address; wait a while", (int)
                    limit.within().toSeconds());
        });
        return claimed.claim();
    }
}
