package tender.service.profile;

import tender.core.office.Protocol;
import tender.service.refusal.Refused;
import tender.store.jdbc.Tx;
import tender.store.office.Listeners;

/** How clients of a listener authenticate, and so what is made for them. */
record AuthenticationMethods(OpenVpnProfiles certificates) {
    enum AuthenticationMethod {
        KEY,
        CERTIFICATE,
        ACCOUNT
    }

    AuthenticationMethod of(Tx tx, Listeners.Listener listener) {
        return switch (Protocol.parse(listener.protocol())) {
            case WIREGUARD -> AuthenticationMethod.KEY;
            case OPENVPN, IKEV2, L2TP_IPSEC, PPTP ->
                AccountProfiles.fits(certificates.facts(tx, listener))
                        ? AuthenticationMethod.ACCOUNT
                        : AuthenticationMethod.CERTIFICATE;
            case TLS ->
                throw new Refused(
                        Refused.Kind.CONFLICT,
                        listener.name() + " is a TLS-based VPN: its maker's own client is needed, and no file fits all",
                        "listener");
        };
    }
}
