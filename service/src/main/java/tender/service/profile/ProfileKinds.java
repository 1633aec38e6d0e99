package tender.service.profile;

import tender.core.office.Attribute;
import tender.core.office.Protocol;
import tender.store.credential.Credentials;
import tender.store.jdbc.Tx;
import tender.store.office.Listeners;
import tender.store.profile.Revisions;

/** The ways in which profiles are made and renewed, one for each way of proving oneself. */
public final class ProfileKinds {
    final WireGuardProfiles byKey;
    final CertificateProfiles byCertificate;
    final AccountProfiles byAccount;
    final OpenVpnProfiles certificates;
    final ByHand byHand;
    private final AuthenticationMethods ways;

    public ProfileKinds(Credentials credentials, Revisions revisions, OpenVpnProfiles certificates, ByHand byHand) {
        this.byKey = new WireGuardProfiles(credentials, revisions);
        this.byCertificate = new CertificateProfiles(credentials, revisions, certificates);
        this.byAccount = new AccountProfiles(credentials, revisions, certificates);
        this.certificates = certificates;
        this.byHand = byHand;
        this.ways = new AuthenticationMethods(certificates);
    }

    /** @throws tender.service.refusal.Refused where no file fits all clients of that kind */
    AuthenticationMethods.AuthenticationMethod way(Tx tx, Listeners.Listener listener) {
        return ways.of(tx, listener);
    }

    /** Whether a listener that asks for certificates asks for an account of its gateway's own, too. */
    boolean asksBoth(Tx tx, Listeners.Listener listener) {
        return listener.protocol().equals(Protocol.OPENVPN.word())
                && certificates.facts(tx, listener).is(Attribute.ACCOUNTS, "local");
    }
}
