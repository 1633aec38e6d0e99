package tender.core.finding;

import static tender.core.finding.Severity.ERROR;
import static tender.core.finding.Severity.NOTICE;
import static tender.core.finding.Severity.WARNING;

import java.util.Locale;

/**
 * The catalogue: every rule's stable code, how bad it is, what it looks at, what it breaks and the remedy. {@code
 * docs/findings.md} is made from it. A finding's own texts name the values and the people.
 */
public enum Rule {
    // what Tender runs itself
    LISTENER_FAILS(
            ERROR,
            Theme.STATE,
            "A monitored listener no longer passes its trial.",
            "Nobody can connect through this listener, or connected people reach nothing inside.",
            "Open its newest trial: it names the step that fails, the cause and the fix."),
    WITHDRAWN_STILL_ACTIVE(
            ERROR,
            Theme.STATE,
            "The key or account of a withdrawn profile was still on its gateway at the last reading.",
            "A person who has left, or whoever has a lost device, can still connect.",
            "Write the records to the gateway: tender gateway sync GATEWAY."),
    REVOCATION_LIST_INCOMPLETE(
            ERROR,
            Theme.STATE,
            "A listener's revocation list lacks certificates that its authority has revoked.",
            "People with one of those certificates can still connect.",
            "Write the records to the gateway: tender gateway sync GATEWAY."),
    AUTHORITY_EXPIRES(
            WARNING,
            Theme.STATE,
            "One of your certificate authorities expires within a year.",
            "No certificate is valid longer than its authority: when it expires, listeners refuse every device it signed for.",
            "Create a new authority now, install it on the listeners and renew the profiles while both are valid."),

    // addresses
    TUNNEL_OVERLAPS_SITE(
            ERROR,
            Theme.ADDRESSES,
            "A listener's tunnel network shares addresses with an office network of the same routing domain.",
            "Connected people cannot reach that office, or they reach the wrong machine.",
            "Move the tunnel network to a free one."),
    TUNNELS_OVERLAP_ON_DEVICE(
            ERROR,
            Theme.ADDRESSES,
            "Two listeners of one gateway use overlapping tunnel networks.",
            "Two clients can get the same tunnel address; replies then go to the wrong one.",
            "Move one of the tunnel networks to a free one."),
    TUNNELS_OVERLAP_ACROSS(
            WARNING,
            Theme.ADDRESSES,
            "Listeners of two gateways in one routing domain use overlapping tunnel networks.",
            "A device connected to both loses one of the tunnels, and joined offices confuse the clients of one with those of the other.",
            "Move one of the tunnel networks to a free one."),
    SITES_OVERLAP(
            WARNING,
            Theme.ADDRESSES,
            "Two sites of one routing domain use overlapping networks.",
            "A device that reaches one cannot reach the other.",
            "Renumber one, or put the sites into different routing domains if they never meet."),
    JOINED_SITES_OVERLAP(
            ERROR,
            Theme.ADDRESSES,
            "Two sites that are joined as one network use overlapping addresses.",
            "Hosts with the same address on both ends cannot reach each other.",
            "Renumber one of the two networks."),
    POOL_OUTSIDE_NETWORK(
            ERROR,
            Theme.ADDRESSES,
            "The address pool lies outside its network.",
            "Devices get addresses that reach nothing.",
            "Set the pool within the network."),
    RESERVED_ADDRESS_IN_POOL(
            WARNING,
            Theme.ADDRESSES,
            "A reserved address lies inside the pool that other devices lease from.",
            "Two devices will get the same address at some point.",
            "Shorten the pool or move the reservation."),
    RESERVED_ADDRESS_TWICE(
            ERROR,
            Theme.ADDRESSES,
            "Two hosts have the same reserved address.",
            "Neither works reliably.",
            "Give one of them a free address."),
    RESERVED_ADDRESS_OUTSIDE(
            ERROR,
            Theme.ADDRESSES,
            "A reserved address lies outside its network.",
            "The host reaches nothing on the network.",
            "Reserve an address inside the network."),
    SITE_LIKE_A_HOME(
            WARNING,
            Theme.ADDRESSES,
            "An office network is one that home and hotel routers commonly use.",
            "At such a place, people reach a device there instead of the server in the office.",
            "Renumber the office, or hand out narrow routes to single hosts."),
    TUNNEL_LIKE_A_HOME(
            WARNING,
            Theme.ADDRESSES,
            "A tunnel network is one that home and hotel routers commonly use.",
            "At such a place the tunnel connects but carries no traffic.",
            "Move the tunnel network to a free one."),
    NETWORK_NOT_PRIVATE(
            WARNING,
            Theme.ADDRESSES,
            "A tunnel network uses public addresses that belong to somebody else.",
            "Connected people cannot reach the real owner of those addresses.",
            "Use private addresses (RFC 1918, RFC 4193)."),
    NETWORK_GONE(
            WARNING,
            Theme.ADDRESSES,
            "A firewall rule, a forward or the inside host of a gateway names a private network that no site or gateway has.",
            "The rule has no effect, and traffic to the network's new addresses is not allowed.",
            "Change it to the network's new addresses, or add the network to its site."),
    TUNNEL_FULL(
            WARNING,
            Theme.ADDRESSES,
            "A tunnel network is almost full.",
            "The next device cannot get an address.",
            "Withdraw unused profiles or widen the network."),
    // endpoints
    ENDPOINT_MISSING(
            ERROR,
            Theme.ENDPOINT,
            "A listener has no endpoint.",
            "Tender cannot create a client file for it.",
            "Set the endpoint."),
    ENDPOINT_PLACEHOLDER(
            ERROR,
            Theme.ENDPOINT,
            "The endpoint is placeholder text from a template.",
            "Nobody can connect.",
            "Set the gateway's public name or address."),
    ENDPOINT_PRIVATE(
            ERROR,
            Theme.ENDPOINT,
            "The endpoint is a private address.",
            "Nobody outside can connect.",
            "Set the gateway's public name or address."),
    ENDPOINT_LITERAL_ON_CHANGING_LINE(
            WARNING,
            Theme.ENDPOINT,
            "Clients connect to an address, but the uplink's address changes.",
            "When the address changes, nobody can connect.",
            "Use a DNS name that follows the address (dynamic DNS)."),
    ENDPOINT_NAME_UNKNOWN(
            ERROR,
            Theme.ENDPOINT,
            "The name that clients connect to has no address in DNS.",
            "Nobody can connect.",
            "Add the name at your DNS provider, or set another name."),
    ENDPOINT_NAME_ELSEWHERE(
            ERROR,
            Theme.ENDPOINT,
            "The name that clients connect to resolves to another address than the uplink's.",
            "The name points to somebody else's address, so connections go there.",
            "Update the DNS record; client files need no change."),
    ENDPOINT_BEHIND_CARRIER(
            ERROR,
            Theme.ENDPOINT,
            "The uplink is behind the carrier's NAT and shares its address with other customers.",
            "Nobody outside can connect to it.",
            "Ask the carrier for a public address, or let this gateway connect outwards."),
    ENDPOINT_ADDRESS_DIFFERS(
            ERROR,
            Theme.ENDPOINT,
            "Clients connect to an address that is not the uplink's.",
            "Nobody can connect.",
            "Set the uplink's address, or a name that resolves to it."),
    UPLINK_UNKNOWN(
            NOTICE,
            Theme.ENDPOINT,
            "The gateway's uplink is not recorded.",
            "Tender cannot check forwards and addresses.",
            "Record the uplink."),
    // the path
    PORTS_DISAGREE(
            ERROR,
            Theme.PATH,
            "The listener, the firewall rule, the forward and the client file use different ports or transports.",
            "Clients with such a file get no answer.",
            "Change the one that differs to the port of the others."),
    FORWARD_MISSING(
            ERROR,
            Theme.PATH,
            "The gateway in front does not forward the listener's port.",
            "Nobody outside can connect.",
            "Add the port forward."),
    FORWARD_WRONG(
            ERROR,
            Theme.PATH,
            "The gateway in front forwards the listener's port to another host.",
            "Clients reach the wrong machine, which does not answer.",
            "Point the forward at the gateway."),
    FILTER_DENIES(
            ERROR,
            Theme.PATH,
            "No firewall rule allows the listener's port.",
            "Nobody outside can connect.",
            "Allow this port only."),
    RULE_SHADOWED(
            ERROR,
            Theme.PATH,
            "The rule that allows the listener's port comes after one that denies it.",
            "The rule looks right and has no effect: nobody can connect.",
            "Move it above the rule that denies."),
    RULE_WITHOUT_EFFECT(
            NOTICE,
            Theme.PATH,
            "A rule never applies, because an earlier rule matches everything it would match.",
            "Anyone who reads the rules is misled.",
            "Remove it or move it up."),
    LISTENER_BOUND_INSIDE(
            ERROR,
            Theme.PATH,
            "The listener is bound to an interface that does not face the internet.",
            "It looks healthy, but nobody outside can connect.",
            "Bind it to the outside interface, or to all."),
    PORT_CLAIMED_TWICE(
            ERROR,
            Theme.PATH,
            "Two listeners use the same public port.",
            "Clients never reach one of them.",
            "Move one of them to another port."),
    PORT_OPEN_UNUSED(
            WARNING,
            Theme.PATH,
            "A forward or a rule opens a port that no listener uses.",
            "Anyone on the internet can reach whatever service answers there later.",
            "Remove the forward or the rule."),
    RULE_TOO_WIDE(
            WARNING,
            Theme.PATH,
            "A rule allows all traffic from the internet to the device itself.",
            "The device's management pages are open to the internet.",
            "Allow only the ports that listeners need."),
    TUNNEL_MAY_NOT_REACH(
            ERROR,
            Theme.PATH,
            "The firewall blocks connected people from networks that are in their files' reach.",
            "The tunnel connects, but the servers behind it do not answer.",
            "Allow traffic from the tunnel to those networks."),
    // strength
    PROTOCOL_BROKEN(
            WARNING,
            Theme.STRENGTH,
            "The listener uses a protocol that has been broken.",
            "Anyone on the path can read passwords.",
            "Remove it; use WireGuard, OpenVPN or IKEv2."),
    PROTOCOL_WEAK(
            WARNING,
            Theme.STRENGTH,
            "The listener uses one secret that everybody shares.",
            "If the secret leaks, everybody is affected; people who leave still know it.",
            "Move people to their own keys or certificates."),
    CIPHER_WEAK(
            WARNING,
            Theme.STRENGTH,
            "The listener accepts a weak cipher.",
            "With enough effort, traffic can be decrypted.",
            "Accept AES-256-GCM and CHACHA20-POLY1305 only."),
    DIGEST_WEAK(
            WARNING,
            Theme.STRENGTH,
            "The listener authenticates packets with an outdated digest.",
            "Forging packets gets cheaper every year.",
            "Use SHA256; the client files need a new revision."),
    TLS_OLD(
            WARNING,
            Theme.STRENGTH,
            "The listener accepts TLS versions older than 1.2.",
            "Known attacks on old TLS versions work.",
            "Set TLS 1.2 as the minimum."),
    KEY_SHORT(
            WARNING,
            Theme.STRENGTH,
            "The listener's certificate has a short key.",
            "With enough effort, an attacker can impersonate the listener.",
            "Renew the certificate with an RSA key of 2048 bits or more, or an EC key."),
    COMPRESSION_ON(
            WARNING,
            Theme.STRENGTH,
            "The listener compresses packets before it encrypts them.",
            "Packet sizes can reveal secrets.",
            "Turn compression off; the client files need a new revision."),
    CERTIFICATE_NOT_ASKED(
            WARNING,
            Theme.STRENGTH,
            "The listener does not require a client certificate.",
            "A stolen password is enough to connect.",
            "Require a certificate for each device."),
    SECOND_FACTOR_MISSING(
            WARNING,
            Theme.STRENGTH,
            "The listener asks for passwords but not for one-time codes.",
            "Where there is no certificate either, a guessed password is enough to connect.",
            "Enrol everyone, then turn on one-time codes."),
    CONTROL_CHANNEL_KEY_MISSING(
            NOTICE,
            Theme.STRENGTH,
            "The listener has no control-channel key.",
            "Scanners can find the VPN server and load it with handshakes.",
            "Add a tls-crypt key; the client files need a new revision."),
    ACCOUNT_ADMINISTERS(
            WARNING,
            Theme.STRENGTH,
            "A VPN account has administrator rights on the device.",
            "Whoever steals the account controls the gateway.",
            "Remove its administrator rights."),
    FACTORY_CREDENTIALS(
            ERROR,
            Theme.STRENGTH,
            "The factory password still works.",
            "Anyone who reaches the device can take it over.",
            "Change the password on the device, then record it here."),
    FACTORY_NOT_ASKED(
            NOTICE,
            Theme.STRENGTH,
            "It is not recorded whether the factory password still works.",
            "The device may be open without anybody knowing.",
            "Try the factory password once, then record the answer."),
    SERVER_NAME_DIFFERS(
            WARNING,
            Theme.STRENGTH,
            "The listener's certificate does not contain the name that clients connect to.",
            "Clients warn or refuse, and people learn to ignore warnings.",
            "Renew the certificate with that name."),
    // limits and reach
    LIMIT_TOO_SMALL(
            WARNING,
            Theme.LIMITS,
            "More devices have profiles than may connect at the same time.",
            "The listener refuses the last ones without a reason.",
            "Raise the limit or withdraw unused profiles."),
    LIMIT_PER_ACCOUNT_TOO_SMALL(
            WARNING,
            Theme.LIMITS,
            "A person has more devices than one account may connect at the same time.",
            "The listener refuses the next device, or disconnects another.",
            "Raise the limit per account."),
    DNS_OUT_OF_REACH(
            ERROR,
            Theme.LIMITS,
            "The DNS server that clients get is not in their reach.",
            "Names do not resolve, although addresses answer.",
            "Add the DNS server to the reach, or set another one."),
    REACH_LEAKS_V6(
            WARNING,
            Theme.LIMITS,
            "Full tunnel for IPv4 only: IPv6 traffic does not use the tunnel.",
            "IPv6 traffic bypasses the office.",
            "Add ::/0 to the reach."),
    // state
    IDENTITY_NOT_ACCEPTED(
            NOTICE,
            Theme.STATE,
            "Nobody has accepted the gateway's identity yet.",
            "Tender cannot read the gateway or back it up.",
            "Compare the fingerprint, then accept it."),
    READ_FAILED(
            WARNING,
            Theme.STATE,
            "Tender could not read the gateway.",
            "Its records may be out of date.",
            "See the reason, then read it again."),
    READ_LONG_AGO(
            NOTICE,
            Theme.STATE,
            "Tender has not read the gateway for a week.",
            "Its records may be out of date.",
            "Read it again."),
    NEVER_BACKED_UP(
            WARNING,
            Theme.STATE,
            "The gateway has no backup.",
            "If the gateway is lost, everybody needs a new client file.",
            "Take a backup."),
    CHANGED_AT_DEVICE(
            NOTICE,
            Theme.STATE,
            "Somebody changed the device without Tender.",
            "Client files may no longer fit, and the reason is not recorded.",
            "Review the change and accept it."),
    SETTING_DISAGREES(
            NOTICE,
            Theme.STATE,
            "A trial saw a setting otherwise than it is known.",
            "Files that Tender makes or repairs follow what is known, and may not fit.",
            "Look on the device which is right, and enter it."),
    TEMPORARY_CHANGE(
            NOTICE,
            Theme.STATE,
            "A temporary change is active.",
            "Tender rolls it back when it expires.",
            "Keep it, or roll it back now."),
    NOT_ACTIVE(
            ERROR,
            Theme.STATE,
            "The running listener differs from its configuration file.",
            "At the next restart the listener will behave differently.",
            "Reload the device."),
    RELEASE_TOO_OLD(
            WARNING,
            Theme.STATE,
            "The device's release is older than its device description requires.",
            "The device may ignore some settings silently.",
            "Update the device."),
    CLOCK_OFF(
            ERROR,
            Theme.STATE,
            "The device's clock is wrong.",
            "Certificates look expired or not yet valid, and one-time codes fail.",
            "Set the clock."),
    ZONE_DIFFERS(
            NOTICE,
            Theme.STATE,
            "The device's time zone is not its site's.",
            "Times in the device's log are misleading.",
            "Set the device's time zone."),
    CERTIFICATE_EXPIRED(
            ERROR, Theme.STATE, "The listener's certificate has expired.", "Nobody can connect.", "Renew it."),
    CERTIFICATE_EXPIRES_SOON(
            WARNING,
            Theme.STATE,
            "The listener's certificate expires within a month.",
            "After that, nobody can connect.",
            "Renew it."),
    REVOCATION_LIST_EXPIRED(
            ERROR,
            Theme.STATE,
            "The listener's revocation list has expired.",
            "The listener refuses every certificate, revoked or not.",
            "Renew the revocation list from its authority."),
    REVOCATION_LIST_EXPIRES_SOON(
            WARNING,
            Theme.STATE,
            "The listener's revocation list expires within a week.",
            "After that, the listener refuses every certificate, revoked or not.",
            "Renew the revocation list from its authority."),
    CREDENTIAL_EXPIRED(
            ERROR,
            Theme.STATE,
            "A person's credential has expired.",
            "That device cannot connect.",
            "Renew the profile and hand it out again."),
    CREDENTIAL_EXPIRES_SOON(
            WARNING,
            Theme.STATE,
            "A person's credential expires within two weeks.",
            "After that, the device cannot connect.",
            "Renew the profile and hand it out again."),
    FILE_OUT_OF_DATE(
            ERROR,
            Theme.STATE,
            "A profile that was handed out no longer fits its gateway.",
            "The person cannot connect, or not with the intended settings.",
            "Renew the profile and hand it out again.");

    /** What a rule is about. */
    public enum Theme {
        ADDRESSES("Addresses"),
        ENDPOINT("What clients call"),
        PATH("The way in"),
        STRENGTH("Strength"),
        LIMITS("Limits and reach"),
        STATE("State and time");

        private final String title;

        Theme(String title) {
            this.title = title;
        }

        public String title() {
            return title;
        }
    }

    private final Severity severity;
    private final Theme theme;
    private final String looks;
    private final String breaks;
    private final String remedy;

    Rule(Severity severity, Theme theme, String looks, String breaks, String remedy) {
        this.severity = severity;
        this.theme = theme;
        this.looks = looks;
        this.breaks = breaks;
        this.remedy = remedy;
    }

    public String code() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    public Severity severity() {
        return severity;
    }

    public Theme theme() {
        return theme;
    }

    /** What is found, one sentence. */
    public String looks() {
        return looks;
    }

    public String breaks() {
        return breaks;
    }

    public String remedy() {
        return remedy;
    }
}
