package tender.service.profile;

import tender.core.office.Protocol;
import tender.service.refusal.Refused;
import tender.store.jdbc.Tx;
import tender.store.office.Listeners;

/** How callers of a listener prove themselves, and so what is made for them. */
record Ways(CertificateProfiles certificates) {
    enum Way {
        KEY,
        CERTIFICATE,
        ACCOUNT
    }

    Way of(Tx tx, Listeners.Listener listener) {
        return switch (Protocol.parse(listener.protocol())) {
            case WIREGUARD -> Way.KEY;
            case OPENVPN, IKEV2, L2TP_IPSEC, PPTP ->
                ByAccount.fits(certificates.facts(tx, listener)) ? Way.ACCOUNT : Way.CERTIFICATE;
            case TLS ->
                throw new Refused(
                        Refused.Kind.CONFLICT,
                        listener.name() + " is a TLS-based VPN: its maker's own client is needed, and no file fits all",
                        "listener");
        };
    }
}
