package tender.service.profile;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.core.credential.TunnelKey;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;

/**
 * A profile that somebody wants for a device.
 *
 * @param person by handle, {@code device} by its name among that person's
 * @param listener empty where the gateway has one alone
 * @param publicKey of a pair that the device made; empty: Tender makes one
 * @param said what this profile alone gets; empty: what the listener's rules give
 * @param ends of access; empty: as the rules say
 * @param access what is asked for at the listener beside a key
 */
record IssueOrder(
        String person,
        String device,
        String gateway,
        Optional<String> listener,
        Optional<TunnelKey> publicKey,
        Said said,
        Optional<Instant> ends,
        Access access) {
    /**
     * What was said for one profile alone.
     *
     * @param fullTunnel whether everything goes through the tunnel; empty where nobody said
     * @param reach networks; empty where nobody said
     */
    record Said(Optional<Boolean> fullTunnel, Optional<List<Cidr>> reach, List<IpAddress> dns) {
        boolean isNothing() {
            return fullTunnel.isEmpty() && reach.isEmpty() && dns.isEmpty();
        }
    }

    /**
     * How the device gets in.
     *
     * @param address a tunnel address that is wanted in place of the next free one
     * @param account who signs in where an account is asked for; empty: the person, or the label of an account that is made
     * @param makeAccount whether Tender makes the account at the gateway
     * @param authority signs where the gateway does not tell which one it believes
     * @param reason why a broken kind of VPN is handed out all the same; may be empty
     */
    record Access(
            Optional<IpAddress> address,
            Optional<String> account,
            boolean makeAccount,
            Optional<String> authority,
            String reason) {
        /** What the listener asks for itself, with an account of Tender's own where it asks for one. */
        static Access usual(boolean makeAccount) {
            return new Access(Optional.empty(), Optional.empty(), makeAccount, Optional.empty(), "");
        }
    }
}
