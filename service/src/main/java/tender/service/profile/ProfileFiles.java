package tender.service.profile;

import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.office.Office;
import tender.core.profile.IkeProfile;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.OpenVpnFile;
import tender.core.trial.IkeQuestion;
import tender.service.office.OfficeRecords;
import tender.service.refusal.Refused;
import tender.store.credential.Credentials;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.profile.ProfileOrigin;
import tender.store.profile.ProfileState;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;

/** The files of profiles, opened for handing out, trying or looking at, and the accounts that belong to them. */
public final class ProfileFiles {
    /** A profile that still waits for somebody at the gateway, to let it in or to close it, can be tried: that shows whether they did. */
    public static final Set<ProfileState> TRIABLE =
            Set.of(ProfileState.READY, ProfileState.WAITING, ProfileState.CLOSING);

    private static final Set<ProfileState> TRIED = Set.of(
            ProfileState.READY,
            ProfileState.WAITING,
            ProfileState.CLOSING,
            ProfileState.WITHDRAWING,
            ProfileState.WITHDRAWN);

    private final Db db;
    private final Credentials credentials;
    private final Revisions revisions;

    ProfileFiles(Db db, Credentials credentials, Revisions revisions) {
        this.db = db;
        this.credentials = credentials;
        this.revisions = revisions;
    }

    /** @throws Refused where there is no such profile, or it is not ready */
    static Profiles.Profile ready(Tx tx, UUID profileId) {
        return in(tx, profileId, Set.of(ProfileState.READY));
    }

    private static Profiles.Profile in(Tx tx, UUID profileId, Set<ProfileState> states) {
        Profiles.Profile p = Profiles.byId(tx, profileId).orElseThrow(() -> Refused.notFound("profile"));
        if (!states.contains(p.state())) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    p.label() + " is " + p.state().word()
                            + p.problem().map(w -> ": " + w).orElse(""));
        }
        return p;
    }

    /** The newest revision of a ready profile with its text, for handing out or trying. */
    public record Newest(Profiles.Profile profile, Revisions.Revision revision, Secret content) {
        /** What somebody holds with it, by what it was made for. */
        public Office.IssuedProfile issued() {
            return OfficeRecords.issued(new Revisions.Given(
                    profile.id(),
                    profile.label(),
                    profile.personName(),
                    profile.person(),
                    profile.gateway(),
                    profile.listener(),
                    revision.madeFor(),
                    false,
                    Optional.empty()));
        }
    }

    /** @throws Refused where there is no such profile, it is not ready, or its file was erased */
    public Newest newest(UUID profileId) {
        return db.inTransaction(tx -> chosen(tx, ready(tx, profileId), Optional.empty()));
    }

    /**
     * The same of a profile that may still wait for somebody at the gateway, or that is withdrawn: a trial shows whether it is let in
     * or refused.
     */
    public Newest triable(UUID profileId) {
        return db.inTransaction(tx -> chosen(tx, in(tx, profileId, TRIED), Optional.empty()));
    }

    /** An account at a gateway. */
    public record Account(String name, Secret password) {}

    /**
     * What a client asks for beside its file.
     *
     * @param account where Tender made it
     * @param passphrase of the locked key store or key in an imported file, where it was kept
     */
    public record Typed(Optional<Account> account, Optional<Secret> passphrase) {}

    public Typed typed(Profiles.Profile p) {
        boolean imported = p.origin() == ProfileOrigin.EXPORTED
                && p.identity().isName()
                && p.account().isEmpty();
        return new Typed(
                account(p), imported ? db.inTransaction(tx -> credentials.secret(tx, p.keyId())) : Optional.empty());
    }

    /**
     * Whether the client of a profile's file asks for the password of an account that Tender does not have.
     *
     * @throws Refused where the file was erased
     */
    public boolean lacksPassword(UUID profileId) {
        Newest newest = triable(profileId);
        String text = newest.content().revealText(RevealSecret.TO_HANDSHAKE);
        boolean asks = IkeProfile.looksLike(text)
                ? IkeQuestion.asksPassword(text)
                : OpenVpnClient.looksLike(OpenVpnFile.read(text).file())
                        && OpenVpnClient.read(text).asksPassword()
                        && OpenVpnFile.read(text).file().login().size() < 2;
        return asks && account(newest.profile()).isEmpty();
    }

    /** A profile's account, where Tender made it. */
    public Optional<Account> account(Profiles.Profile p) {
        return p.account()
                .flatMap(a -> db.inTransaction(tx -> credentials.secret(tx, a.credentialId()))
                        .map(password -> new Account(a.name(), password)));
    }

    /** Any revision of a profile in any state, to look at; the newest where no number is given. */
    public Newest revision(UUID profileId, Optional<Integer> number) {
        return db.inTransaction(
                tx -> chosen(tx, Profiles.byId(tx, profileId).orElseThrow(() -> Refused.notFound("profile")), number));
    }

    private Newest chosen(Tx tx, Profiles.Profile p, Optional<Integer> number) {
        Revisions.Revision revision = Revisions.of(tx, p.id()).stream()
                .filter(r -> number.isEmpty() || r.number() == number.get())
                .findFirst()
                .orElseThrow(() -> Refused.notFound("revision"));
        return new Newest(
                p,
                revision,
                revisions
                        .content(tx, revision.id())
                        .orElseThrow(
                                () -> new Refused(
                                        Refused.Kind.CONFLICT,
                                        "the file of " + p.label()
                                                + " was erased with its key after it was collected; issue another profile where it is lost")));
    }
}
