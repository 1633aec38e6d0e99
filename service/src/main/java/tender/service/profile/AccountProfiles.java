package tender.service.profile;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.core.certificate.PemText;
import tender.core.credential.ClientIdentity;
import tender.core.credential.CredentialState;
import tender.core.credential.Custody;
import tender.core.credential.Secret;
import tender.core.language.StaffTexts;
import tender.core.network.Cidr;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.office.Protocol;
import tender.core.profile.FileName;
import tender.core.profile.IkeConnection;
import tender.core.profile.IkeProfile;
import tender.core.sheet.Connection;
import tender.core.sheet.Platform;
import tender.core.sheet.SettingsSheet;
import tender.core.sheet.SheetText;
import tender.core.wire.Sha256;
import tender.store.credential.Credentials;
import tender.store.event.Events;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Listeners;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;

/**
 * Profiles of people who sign in with an account that the gateway or its directory has: OpenVPN and IKEv2 with a password,
 * L2TP/IPsec, PPTP. Of an account that was there before Tender knows the name and never the password; one that it makes itself has a
 * password of its own making, which is kept encrypted.
 */
final class AccountProfiles {
    private final Credentials credentials;
    private final Revisions revisions;
    private final OpenVpnProfiles certificates;

    AccountProfiles(Credentials credentials, Revisions revisions, OpenVpnProfiles certificates) {
        this.credentials = credentials;
        this.revisions = revisions;
        this.certificates = certificates;
    }

    /** Whether callers of this listener sign in by account alone. */
    static boolean fits(Listener facts) {
        return switch (facts.protocol()) {
            case L2TP_IPSEC, PPTP -> true;
            case IKEV2 -> !facts.is(Attribute.CLIENT_CERTIFICATE, "yes");
            case OPENVPN -> facts.is(Attribute.CLIENT_CERTIFICATE, "no");
            default -> false;
        };
    }

    /**
     * Gives the profile's id. It is ready at once, or once the gateway has the account where Tender makes it.
     *
     * @param password of an account that is to be made; empty where it is there already
     */
    UUID keep(Tx tx, ProfilePlan w, Listener facts, String account, Optional<Secret> password, String reason, By by) {
        UUID profileId = new NamedCredential(
                        new ClientIdentity.Account(account),
                        "account " + account + " at " + w.listener().gateway(),
                        password.isPresent() ? Custody.HELD : Custody.DEVICE_ONLY,
                        password.isPresent() ? CredentialState.CREATED : CredentialState.IN_USE,
                        password,
                        Optional.empty())
                .keep(tx, credentials, w, by.at());
        String text = revision(
                tx,
                profileId,
                1,
                Stems.of(tx, profileId, w),
                w.label(),
                w.listener(),
                facts,
                account,
                w.given(),
                by.at());
        if (password.isEmpty()) {
            Profiles.ready(tx, profileId);
        }
        Events.say(tx, "profile", profileId);
        Journal.append(
                tx,
                by,
                "profile-issued",
                "profile",
                profileId,
                "revision 1, " + Sha256.hex(text)
                        + (password.isPresent() ? ", its own account " : ", account ") + account
                        + (reason.isEmpty() ? "" : "; reason: " + reason));
        return profileId;
    }

    String renew(Tx tx, Profiles.Profile p, Listeners.Listener listener, Listener facts, int number, Instant now) {
        String account = p.identity().value();
        return revision(tx, p.id(), number, Stems.of(tx, p), p.label(), listener, facts, account, Given.of(p), now);
    }

    private String revision(
            Tx tx,
            UUID profileId,
            int number,
            String stem,
            String label,
            Listeners.Listener listener,
            Listener facts,
            String account,
            Given given,
            Instant now) {
        Text made = text(tx, label + ", revision " + number, stem, number, listener, facts, account, given, now);
        revisions.insert(
                tx,
                new Revisions.Revision(
                        Ids.next(),
                        profileId,
                        number,
                        Sha256.hex(made.content()),
                        made.fileName(),
                        made.madeFor(),
                        now),
                Secret.of(made.content()));
        return made.content();
    }

    Map<String, String> madeFor(Tx tx, Listeners.Listener listener, Listener facts, List<Cidr> reach) {
        return facts.protocol() == Protocol.OPENVPN
                ? OpenVpnProfiles.madeFor(certificates.place(tx, listener), reach)
                : CertificateProfiles.typed(listener, facts, reach);
    }

    /** A revision's content, the name of its file, and what it depends on. */
    private record Text(String content, String fileName, Map<String, String> madeFor) {}

    private Text text(
            Tx tx,
            String title,
            String stem,
            int number,
            Listeners.Listener listener,
            Listener facts,
            String account,
            Given given,
            Instant now) {
        if (facts.protocol() == Protocol.OPENVPN) {
            OpenVpnProfiles.Place place = certificates.place(tx, listener);
            return new Text(
                    certificates.text(title, place, Optional.empty(), given, now),
                    FileName.openVpn(stem, number),
                    madeFor(tx, listener, facts, given.reach()));
        }
        return new Text(
                facts.protocol() == Protocol.IKEV2
                        ? ike(tx, title, listener, facts, account, given.reach())
                        : sheet(title, listener, facts, account, given.reach()),
                FileName.settings(stem, number),
                madeFor(tx, listener, facts, given.reach()));
    }

    private String ike(
            Tx tx, String title, Listeners.Listener listener, Listener facts, String account, List<Cidr> reach) {
        Optional<byte[]> authority = certificates.authorityOf(tx, facts);
        return new IkeProfile(
                        "# " + title + "\n"
                                + new IkeConnection(
                                                listener.gateway().replaceAll("[^A-Za-z0-9-]", "-"),
                                                Planning.endpoint(listener).host(),
                                                CertificateProfiles.serverId(facts, listener),
                                                IkeConnection.Proof.PASSWORD,
                                                account,
                                                Optional.empty(),
                                                authority.map(a -> listener.gateway() + "-authority.pem"),
                                                reach)
                                        .swanctl(),
                        Optional.empty(),
                        Optional.empty(),
                        authority.map(a -> PemText.write("CERTIFICATE", a)))
                .text();
    }

    private static String sheet(
            String title, Listeners.Listener listener, Listener facts, String account, List<Cidr> reach) {
        return SheetText.of(SettingsSheet.of(
                new Connection(
                        title,
                        facts.protocol(),
                        Optional.of(Planning.endpoint(listener)),
                        Optional.empty(),
                        account,
                        false,
                        facts.protocol() == Protocol.L2TP_IPSEC,
                        Optional.empty(),
                        "",
                        reach,
                        List.of(),
                        Optional.empty()),
                Platform.WINDOWS,
                StaffTexts.ENGLISH)); // what is handed out is written anew, in the person's language
    }
}
