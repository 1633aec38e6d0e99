package tender.core.finding;

import static tender.core.finding.Severity.BREAKS;
import static tender.core.finding.Severity.NOTE;
import static tender.core.finding.Severity.RISKS;

import java.util.Locale;

/**
 * The catalogue: every rule's stable code, how bad it is, what it looks at, what it breaks and the remedy. {@code
 * docs/findings.md} is made from it. A finding's own texts name the values and the people.
 */
public enum Rule {
    // what Tender runs itself
    LISTENER_FAILS(
            BREAKS,
            Theme.STATE,
            "A listener that is tried on a schedule is not proven any more.",
            "Nobody gets in through it, or nobody reaches anything inside.",
            "Look at its newest trial: the rung that fails, the cause, and what to do."),
    WITHDRAWN_IN_FORCE(
            BREAKS,
            Theme.STATE,
            "A key or account of a withdrawn profile was in force at its gateway when it was last read.",
            "Somebody who has left, or who has lost a device, still gets in.",
            "Bring the gateway to what the records say: tender gateway apply GATEWAY."),
    REVOCATION_LIST_INCOMPLETE(
            BREAKS,
            Theme.STATE,
            "A listener's revocation list does not name every certificate that its authority has revoked.",
            "Whoever holds one of those certificates still gets in.",
            "Bring the gateway to what the records say: tender gateway apply GATEWAY."),
    AUTHORITY_ENDS(
            RISKS,
            Theme.STATE,
            "A certificate authority of ours ends within a year.",
            "No certificate can outlive it: from its end on, every device it signed for is refused.",
            "Make a new authority now, give it to the listeners, and renew the profiles while both count."),

    // addresses
    TUNNEL_OVERLAPS_SITE(
            BREAKS,
            Theme.ADDRESSES,
            "A listener's tunnel network shares addresses with an office network of the same routing domain.",
            "Connected people cannot reach that office, or reach the wrong machine.",
            "Move the tunnel network to a free one."),
    TUNNELS_OVERLAP_ON_DEVICE(
            BREAKS,
            Theme.ADDRESSES,
            "Two listeners of one gateway give out addresses from networks that share some.",
            "Answers go to the wrong one of two people.",
            "Move one of the tunnel networks to a free one."),
    TUNNELS_OVERLAP_ACROSS(
            RISKS,
            Theme.ADDRESSES,
            "Listeners of two gateways in one routing domain use tunnel networks that share addresses.",
            "A device with both tunnels up loses one, and joined offices mix up callers.",
            "Move one of the tunnel networks to a free one."),
    SITES_OVERLAP(
            RISKS,
            Theme.ADDRESSES,
            "Two sites of one routing domain use networks that share addresses.",
            "A device that reaches one cannot reach the other.",
            "Renumber one, or put the sites into different routing domains if they never meet."),
    JOINED_SITES_OVERLAP(
            BREAKS,
            Theme.ADDRESSES,
            "Two sites that are joined as one network share addresses.",
            "Hosts with the same address on both ends cannot reach each other.",
            "Renumber one of the two networks."),
    POOL_OUTSIDE_NETWORK(
            BREAKS,
            Theme.ADDRESSES,
            "The pool that addresses are lent from lies outside its network.",
            "Devices get addresses with which they reach nothing.",
            "Set the pool within the network."),
    FIXED_ADDRESS_IN_POOL(
            RISKS,
            Theme.ADDRESSES,
            "An address fixed for one host lies in the pool that is lent to others.",
            "Some day two devices have one address.",
            "Shorten the pool or move the fixed address."),
    FIXED_ADDRESS_TWICE(
            BREAKS,
            Theme.ADDRESSES,
            "Two hosts have the same fixed address.",
            "Neither works reliably.",
            "Give one of them a free address."),
    FIXED_ADDRESS_OUTSIDE(
            BREAKS,
            Theme.ADDRESSES,
            "A fixed address lies outside its network.",
            "The host reaches nothing.",
            "Give it an address of the network."),
    SITE_LIKE_A_HOME(
            RISKS,
            Theme.ADDRESSES,
            "An office network is one that boxes in homes and hotels commonly have.",
            "From such a place people reach the printer there instead of the server here.",
            "Renumber the office, or hand out narrow routes to single hosts."),
    TUNNEL_LIKE_A_HOME(
            RISKS,
            Theme.ADDRESSES,
            "A tunnel network is one that boxes in homes and hotels commonly have.",
            "From such a place the tunnel comes up and carries nothing.",
            "Move the tunnel network to a free one."),
    NETWORK_NOT_PRIVATE(
            RISKS,
            Theme.ADDRESSES,
            "A tunnel network is made of addresses that belong to somebody on the internet.",
            "Whoever really has them cannot be reached by connected people.",
            "Use private addresses (RFC 1918, RFC 4193)."),
    NETWORK_GONE(
            RISKS,
            Theme.ADDRESSES,
            "A filter rule, a forward or the inside host of a gateway names a private network that no site and no gateway has.",
            "The rule has no effect, and whatever moved with the network is not let through.",
            "Change them to the network's new addresses, or enter the network at its site."),
    TUNNEL_FULL(
            RISKS,
            Theme.ADDRESSES,
            "A tunnel network has almost no free address left.",
            "The next device cannot be admitted.",
            "Withdraw unused profiles or widen the network."),
    // endpoints
    ENDPOINT_MISSING(
            BREAKS,
            Theme.ENDPOINT,
            "A listener has nothing for clients to call.",
            "No file can be made for it.",
            "Set the endpoint."),
    ENDPOINT_PLACEHOLDER(
            BREAKS,
            Theme.ENDPOINT,
            "The endpoint is a text left over from a template.",
            "Nobody can connect.",
            "Set the name or address that is seen from outside."),
    ENDPOINT_PRIVATE(
            BREAKS,
            Theme.ENDPOINT,
            "The endpoint is an inside address.",
            "Nobody outside can connect.",
            "Set the name or address that is seen from outside."),
    ENDPOINT_LITERAL_ON_CHANGING_LINE(
            RISKS,
            Theme.ENDPOINT,
            "Clients call an address, but the line's address changes.",
            "At the next change everybody is locked out at once.",
            "Let clients call a name that follows the address."),
    ENDPOINT_NAME_UNKNOWN(
            BREAKS,
            Theme.ENDPOINT,
            "The name that clients call leads to no address.",
            "Nobody can connect.",
            "Enter the name with its provider, or set another."),
    ENDPOINT_NAME_ELSEWHERE(
            BREAKS,
            Theme.ENDPOINT,
            "The name that clients call leads to another address than the line's.",
            "Callers knock at a stranger's door.",
            "Update the name; files need no change."),
    ENDPOINT_BEHIND_CARRIER(
            BREAKS,
            Theme.ENDPOINT,
            "The line shares its address with other customers of the carrier.",
            "Nobody outside can call it.",
            "Ask for an address of its own, or let this gateway call out."),
    ENDPOINT_ADDRESS_DIFFERS(
            BREAKS,
            Theme.ENDPOINT,
            "Clients call an address that is not the line's.",
            "Nobody can connect.",
            "Set the line's address or a name that leads to it."),
    UPLINK_UNKNOWN(
            NOTE,
            Theme.ENDPOINT,
            "It is not recorded how the gateway is reached from outside.",
            "Forwards and addresses cannot be checked.",
            "Record the uplink."),
    // the path
    DOORS_DISAGREE(
            BREAKS,
            Theme.PATH,
            "Listener, filter, forward and file do not all say the same transport and port.",
            "Whoever holds such a file meets silence.",
            "Change the odd one to what the others say."),
    FORWARD_MISSING(
            BREAKS,
            Theme.PATH,
            "The gateway in front does not pass the listener's door on.",
            "Nobody outside can connect.",
            "Add the forward."),
    FORWARD_WRONG(
            BREAKS,
            Theme.PATH,
            "The gateway in front passes the listener's door on to another host.",
            "Callers reach the wrong machine, which does not answer.",
            "Point the forward at the gateway."),
    FILTER_DENIES(
            BREAKS,
            Theme.PATH,
            "No rule of the filter lets the listener's door in.",
            "Nobody outside can connect.",
            "Allow this door alone."),
    RULE_SHADOWED(
            BREAKS,
            Theme.PATH,
            "The rule that allows the listener's door stands below one that denies it.",
            "The rule looks right and has no effect: nobody can connect.",
            "Move it above the one that denies."),
    RULE_WITHOUT_EFFECT(
            NOTE,
            Theme.PATH,
            "A rule is never reached, because an earlier one takes all it could take.",
            "Whoever reads the list is misled.",
            "Remove it or move it up."),
    LISTENER_BOUND_INSIDE(
            BREAKS,
            Theme.PATH,
            "The listener waits on an interface that does not face outside.",
            "It looks healthy and refuses everyone outside.",
            "Bind it to the outside interface or to any."),
    DOOR_CLAIMED_TWICE(
            BREAKS,
            Theme.PATH,
            "Two listeners want the same public door.",
            "One of them is never reached.",
            "Give one another port."),
    DOOR_OPEN_UNUSED(
            RISKS,
            Theme.PATH,
            "A forward or a rule opens a door that no listener uses.",
            "Strangers can knock at whatever answers there some day.",
            "Close it."),
    RULE_TOO_WIDE(
            RISKS,
            Theme.PATH,
            "A rule lets everything from outside reach the device itself.",
            "Its management pages are open to the world.",
            "Allow only the doors that listeners need."),
    TUNNEL_MAY_NOT_REACH(
            BREAKS,
            Theme.PATH,
            "The filter keeps connected people from the networks that their files promise.",
            "The tunnel is up and the server does not answer.",
            "Allow the tunnel's side to reach them."),
    // strength
    PROTOCOL_BROKEN(
            RISKS,
            Theme.STRENGTH,
            "The listener speaks a protocol that has been broken.",
            "Passwords can be read by whoever listens in.",
            "Retire it; use WireGuard, OpenVPN or IKEv2."),
    PROTOCOL_WEAK(
            RISKS,
            Theme.STRENGTH,
            "The listener rests on one secret shared by all.",
            "A leak touches everybody, and a leaver takes it along.",
            "Move people to keys or certificates of their own."),
    CIPHER_WEAK(
            RISKS,
            Theme.STRENGTH,
            "The listener accepts a cipher that can be broken.",
            "What passes can be read with effort.",
            "Accept AES-256-GCM and CHACHA20-POLY1305 only."),
    DIGEST_WEAK(
            RISKS,
            Theme.STRENGTH,
            "Packets are protected by an outdated digest.",
            "Forging gets cheaper every year.",
            "Use SHA256; files need a new revision."),
    TLS_OLD(
            RISKS,
            Theme.STRENGTH,
            "The handshake may use a TLS version older than 1.2.",
            "Known attacks work.",
            "Set 1.2 as the oldest."),
    KEY_SHORT(
            RISKS,
            Theme.STRENGTH,
            "The listener's certificate has a short key.",
            "It can be imitated with effort.",
            "Renew the certificate with 2048 bits or an elliptic key."),
    COMPRESSION_ON(
            RISKS,
            Theme.STRENGTH,
            "Packets are compressed before they are locked.",
            "Secrets can be guessed from sizes.",
            "Switch it off; files need a new revision."),
    CERTIFICATE_NOT_ASKED(
            RISKS,
            Theme.STRENGTH,
            "Devices need no certificate of their own.",
            "A stolen password is enough to get in.",
            "Require a certificate for each device."),
    SECOND_FACTOR_MISSING(
            RISKS,
            Theme.STRENGTH,
            "Passwords are asked for, one-time codes are not.",
            "A guessed password is enough where there is no certificate either.",
            "Enrol everyone, then turn one-time codes on."),
    WRAPPING_MISSING(
            NOTE,
            Theme.STRENGTH,
            "The handshake answers strangers.",
            "Whoever scans sees a VPN server and can load it with handshakes.",
            "Wrap the handshake with a shared key."),
    ACCOUNT_ADMINISTERS(
            RISKS,
            Theme.STRENGTH,
            "An account for the tunnel may also administer the device.",
            "Whoever steals it owns the gateway.",
            "Take its rights on the device away."),
    FACTORY_CREDENTIALS(
            BREAKS,
            Theme.STRENGTH,
            "Credentials from the factory still work.",
            "Anyone who finds the device can take it over.",
            "Change them at the device, then note it here."),
    FACTORY_NOT_ASKED(
            NOTE,
            Theme.STRENGTH,
            "Nobody has noted whether credentials from the factory still work.",
            "A device may stand open unknown.",
            "Try them once, then note the answer."),
    SERVER_NAME_DIFFERS(
            RISKS,
            Theme.STRENGTH,
            "The name that clients call is not in the listener's certificate.",
            "Clients warn or refuse, and people learn to click warnings away.",
            "Renew the certificate with that name."),
    // limits and reach
    LIMIT_TOO_SMALL(
            RISKS,
            Theme.LIMITS,
            "More devices hold files than may be connected at once.",
            "The last ones are refused without a reason.",
            "Raise the limit or withdraw unused profiles."),
    LIMIT_PER_ACCOUNT_TOO_SMALL(
            RISKS,
            Theme.LIMITS,
            "Somebody has more devices than one account may connect.",
            "The second device is refused or cuts the first.",
            "Raise the limit per account."),
    DNS_OUT_OF_REACH(
            BREAKS,
            Theme.LIMITS,
            "The name server given out cannot be reached through the tunnel.",
            "Names fail while pings by address work.",
            "Put the name server into the reach, or give out another."),
    REACH_LEAKS_V6(
            RISKS,
            Theme.LIMITS,
            "Everything is sent through the tunnel for IPv4 and not for IPv6.",
            "Part of the traffic goes past the office.",
            "Add ::/0 to the reach."),
    // state
    IDENTITY_NOT_ACCEPTED(
            NOTE,
            Theme.STATE,
            "A gateway's identity has not been compared and accepted yet.",
            "It cannot be read or backed up.",
            "Compare the fingerprint, then accept it."),
    READ_FAILED(
            RISKS,
            Theme.STATE,
            "A gateway could not be read.",
            "What is known of it may no longer be so.",
            "See why, and read it again."),
    READ_LONG_AGO(
            NOTE,
            Theme.STATE,
            "A gateway has not been read for a week.",
            "What is known of it may no longer be so.",
            "Read it again."),
    NEVER_BACKED_UP(
            RISKS,
            Theme.STATE,
            "There is no backup of a gateway.",
            "If it dies, every file is handed out anew.",
            "Take a backup."),
    CHANGED_AT_DEVICE(
            NOTE,
            Theme.STATE,
            "Something was changed at the device and not through Tender.",
            "Files may no longer fit, and nobody here knows why.",
            "Look at the change and take note of it."),
    TEMPORARY_CHANGE(
            NOTE,
            Theme.STATE,
            "A temporary change is in force.",
            "It returns by itself at its end.",
            "Keep it, or end it now."),
    NOT_IN_FORCE(
            BREAKS,
            Theme.STATE,
            "What is written in the listener's file is not what runs.",
            "At the next restart something else happens than everybody expects.",
            "Let the device take its files up."),
    RELEASE_TOO_OLD(
            RISKS,
            Theme.STATE,
            "The device's release is older than its description counts on.",
            "Some settings are ignored without a word.",
            "Update the device."),
    CLOCK_OFF(
            BREAKS,
            Theme.STATE,
            "The device's clock is off.",
            "Certificates look not yet or no longer valid, and one-time codes fail.",
            "Set the clock."),
    ZONE_DIFFERS(
            NOTE,
            Theme.STATE,
            "The device's time zone is not its site's.",
            "Times in its log mislead.",
            "Set the device's zone."),
    CERTIFICATE_ENDED(BREAKS, Theme.STATE, "The listener's certificate has ended.", "Nobody gets in.", "Renew it."),
    CERTIFICATE_ENDS_SOON(
            RISKS,
            Theme.STATE,
            "The listener's certificate ends within a month.",
            "After that nobody gets in.",
            "Renew it."),
    REVOCATION_LIST_ENDED(
            BREAKS,
            Theme.STATE,
            "The list of revoked certificates has run out.",
            "The listener refuses everyone, revoked or not.",
            "Let its authority sign the list anew."),
    REVOCATION_LIST_ENDS_SOON(
            RISKS,
            Theme.STATE,
            "The list of revoked certificates runs out within a week.",
            "After that the listener refuses everyone, revoked or not.",
            "Let its authority sign the list anew."),
    CREDENTIAL_ENDED(
            BREAKS,
            Theme.STATE,
            "A credential that somebody holds has ended.",
            "That device cannot connect.",
            "Renew it and hand the profile out again."),
    CREDENTIAL_ENDS_SOON(
            RISKS,
            Theme.STATE,
            "A credential that somebody holds ends within two weeks.",
            "After that the device cannot connect.",
            "Renew it and hand the profile out again."),
    FILE_OUT_OF_DATE(
            BREAKS,
            Theme.STATE,
            "A file that was handed out no longer fits its gateway.",
            "Whoever holds it cannot connect, or not as meant.",
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
