package tender.service.profile;

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
     * The account that somebody signs in with.
     *
     * @param facts of the listener
     * @param password of an account that is to be made; empty where it is there already
     * @param reason why somebody gets in by a protocol that is broken
     */
    record Wanted(Listener facts, String account, Optional<Secret> password, String reason) {}

    /** Gives the profile's id. It is ready at once, or once the gateway has the account where Tender makes it. */
    UUID keep(Tx tx, ProfilePlan w, Wanted wanted, By by) {
        String account = wanted.account();
        Optional<Secret> password = wanted.password();
        UUID profileId = new NamedCredential(
                        new ClientIdentity.Account(account),
                        "account " + account + " at " + w.listener().gateway(),
                        password.isPresent() ? Custody.HELD : Custody.DEVICE_ONLY,
                        password.isPresent() ? CredentialState.CREATED : CredentialState.IN_USE,
                        password,
                        Optional.empty())
                .keep(tx, credentials, w, by.at());
        Edition first = Edition.first(tx, profileId, w, by.at());
        String text = first.keep(
                tx, revisions, made(tx, first, new Access(w.listener(), wanted.facts(), account, w.given())));
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
                        + (wanted.reason().isEmpty() ? "" : "; reason: " + wanted.reason()));
        return profileId;
    }

    String renew(Tx tx, Renewal r, Listener facts) {
        Profiles.Profile p = r.profile();
        Access access = new Access(r.listener(), facts, p.identity().value(), Given.of(p));
        return r.edition().keep(tx, revisions, made(tx, r.edition(), access));
    }

    /** Where an account gets in, and what its file sends there. */
    private record Access(Listeners.Listener listener, Listener facts, String account, Given given) {}

    Map<String, String> madeFor(Tx tx, Listeners.Listener listener, Listener facts, List<Cidr> reach) {
        return facts.protocol() == Protocol.OPENVPN
                ? OpenVpnProfiles.madeFor(certificates.place(tx, listener), reach)
                : CertificateProfiles.typed(listener, facts, reach);
    }

    private Edition.Made made(Tx tx, Edition e, Access a) {
        Map<String, String> madeFor =
                madeFor(tx, a.listener(), a.facts(), a.given().reach());
        return switch (a.facts().protocol()) {
            case OPENVPN ->
                new Edition.Made(
                        certificates.text(
                                e.title(), certificates.place(tx, a.listener()), Optional.empty(), a.given(), e.now()),
                        FileName.openVpn(e.stem(), e.number()),
                        madeFor);
            case IKEV2 -> new Edition.Made(ike(tx, e.title(), a), FileName.settings(e.stem(), e.number()), madeFor);
            default -> new Edition.Made(sheet(e.title(), a), FileName.settings(e.stem(), e.number()), madeFor);
        };
    }

    private String ike(Tx tx, String title, Access a) {
        Listeners.Listener listener = a.listener();
        Optional<byte[]> authority = certificates.authorityOf(tx, a.facts());
        return new IkeProfile(
                        "# " + title + "\n"
                                + new IkeConnection(
                                                listener.gateway().replaceAll("[^A-Za-z0-9-]", "-"),
                                                Planning.endpoint(listener).host(),
                                                CertificateProfiles.serverId(a.facts(), listener),
                                                IkeConnection.Proof.PASSWORD,
                                                a.account(),
                                                Optional.empty(),
                                                authority.map(c -> listener.gateway() + "-authority.pem"),
                                                a.given().reach())
                                        .swanctl(),
                        Optional.empty(),
                        Optional.empty(),
                        authority.map(c -> PemText.write("CERTIFICATE", c)))
                .text();
    }

    private static String sheet(String title, Access a) {
        return SheetText.of(SettingsSheet.of(
                new Connection(
                        title,
                        a.facts().protocol(),
                        Optional.of(Planning.endpoint(a.listener())),
                        Optional.empty(),
                        a.account(),
                        false,
                        a.facts().protocol() == Protocol.L2TP_IPSEC,
                        Optional.empty(),
                        "",
                        a.given().reach(),
                        List.of(),
                        Optional.empty()),
                Platform.WINDOWS,
                StaffTexts.ENGLISH)); // what is handed out is written anew, in the person's language
    }
}
