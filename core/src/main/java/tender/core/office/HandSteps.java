package tender.core.office;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import tender.core.network.Port;
import tender.core.network.Transport;

/**
 * A change as somebody makes it by hand at a device: what to do, the values to enter, and what to copy.
 *
 * @param what in one sentence
 * @param values what to enter, by the name of the field in the trade's words
 * @param paste texts to copy as they are, by what each is; nothing secret
 * @param tries what a trial can show it by
 */
public record HandSteps(String what, Map<String, String> values, Map<String, String> paste, Tries tries) {
    /**
     * What a trial can show a change by.
     *
     * @param listener the one that works with other settings
     * @param settings what a trial should see it set to, where it sees that at all
     * @param opened what can be reached from outside; any listener there can show it
     */
    public record Tries(Optional<String> listener, Map<Attribute, String> settings, Optional<Opened> opened) {
        static final Tries NOTHING = new Tries(Optional.empty(), Map.of(), Optional.empty());

        static Tries listener(String name) {
            return new Tries(Optional.of(name), Map.of(), Optional.empty());
        }

        static Tries opened(Opened opened) {
            return new Tries(Optional.empty(), Map.of(), Optional.of(opened));
        }
    }

    /**
     * Ports at which packets come in.
     *
     * @param ports of the listeners that they reach
     * @param outside the port that clients have to call, where it is another one
     */
    public record Opened(Transport transport, PortRange ports, Optional<Port> outside) {}

    public HandSteps {
        values = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(values));
        paste = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(paste));
    }

    public static HandSteps of(Change change) {
        return change.match(new Steps());
    }

    /**
     * What to do for one profile.
     *
     * @param subject the account's name, the certificate's serial number, or the peer's public key
     */
    public static HandSteps of(HandWork work, String listener, String subject) {
        return switch (work) {
            case ADMIT_PEER ->
                of("Add this WireGuard peer to listener " + listener + ".", Map.of("public key", subject));
            case ADMIT_ACCOUNT ->
                of(
                        "Create this account with the password below, and let it use listener " + listener
                                + " and nothing else.",
                        Map.of("account", subject));
            case CLOSE_PEER ->
                of("Remove this WireGuard peer from listener " + listener + ".", Map.of("public key", subject));
            case CLOSE_ACCOUNT -> of("Close this account, or take its VPN access away.", Map.of("account", subject));
            case CLOSE_CERTIFICATE ->
                of(
                        "Revoke this certificate with the authority that is on the device. Listener " + listener
                                + " must check that authority's revocation list.",
                        Map.of("serial number", subject));
            case UPLOAD_LIST ->
                of(
                        "Upload the newest revocation list for listener " + listener + ", and replace the one there.",
                        Map.of("revoked certificate", subject));
        };
    }

    private HandSteps triedBy(Tries fresh) {
        return new HandSteps(what, values, paste, fresh);
    }

    private static HandSteps of(String what, Map<String, String> values) {
        return new HandSteps(what, values, Map.of(), Tries.NOTHING);
    }

    /** A change of kind by kind. Values keep the order in which most devices ask for them. */
    private static final class Steps implements Change.Cases<HandSteps> {
        @Override
        public HandSteps of(ListenerChange.SetListener change) {
            return HandSteps.of("Change the settings of listener " + change.listener() + ".", settings(change.values()))
                    .triedBy(new Tries(Optional.of(change.listener()), change.values(), Optional.empty()));
        }

        @Override
        public HandSteps of(ListenerChange.AddListener change) {
            return HandSteps.of(
                            "Add a listener " + change.name() + " set up like " + change.listener()
                                    + " except for these settings. Leave " + change.listener() + " as it is.",
                            settings(change.values()))
                    .triedBy(Tries.listener(change.name()));
        }

        @Override
        public HandSteps of(ListenerChange.RemoveListener change) {
            return HandSteps.of("Remove listener " + change.listener() + ", or switch it off.", Map.of());
        }

        @Override
        public HandSteps of(ListenerChange.RenewCertificate change) {
            Map<String, String> values = new LinkedHashMap<>();
            values.put("signed by", "the same authority as now, so that client files go on working");
            if (!change.names().isEmpty()) {
                values.put("common name", change.names().get(0));
                values.put("subject alternative names", String.join(", ", change.names()));
            }
            values.put("key", "RSA, " + change.keyBits() + " bits, or ECDSA P-256");
            values.put("use", "TLS server authentication");
            values.put("valid until", "about " + change.ends().toString().substring(0, 10));
            return HandSteps.of(
                            "Make a new certificate for listener " + change.listener() + " and select it there.",
                            values)
                    .triedBy(Tries.listener(change.listener()));
        }

        @Override
        public HandSteps of(ListenerChange.RenewRevocations change) {
            return HandSteps.of(
                            "Sign the revocation list of listener " + change.listener()
                                    + " anew, with the authority that is on the device.",
                            Map.of(
                                    "valid until",
                                    "about " + change.ends().toString().substring(0, 10)))
                    .triedBy(Tries.listener(change.listener()));
        }

        @Override
        public HandSteps of(ListenerChange.UseCertificate change) {
            Map<String, String> paste = new LinkedHashMap<>();
            paste.put("certificate of the listener", change.certificate());
            paste.put("certificate of the authority that signs clients", change.authority());
            paste.put("revocation list", change.revocations());
            return new HandSteps(
                    "Import the certificate for listener " + change.listener()
                            + " beside the key that its request was made with, and select it there with the authority and the"
                            + " revocation list.",
                    Map.of(),
                    paste,
                    Tries.listener(change.listener()));
        }

        @Override
        public HandSteps of(ListenerChange.PutRevocations change) {
            return new HandSteps(
                    "Upload the revocation list for listener " + change.listener() + " and replace the one there.",
                    Map.of(),
                    Map.of("revocation list", change.revocations()),
                    Tries.listener(change.listener()));
        }

        @Override
        public HandSteps of(FirewallChange.PutForward change) {
            Forward f = change.forward();
            Map<String, String> values = new LinkedHashMap<>();
            values.put("protocol", upper(f.transport().word()));
            values.put("outside port", f.port().toString());
            values.put("inside address", f.to().toString());
            values.put("inside port", f.toPort().toString());
            values.put("source", "any");
            return HandSteps.of(
                            "Add a port forward. A forward that is there for the same port is replaced. Where the device does not do so"
                                    + " by itself, allow the port in the firewall, too.",
                            values)
                    .triedBy(Tries.opened(new Opened(f.transport(), PortRange.of(f.toPort()), Optional.of(f.port()))));
        }

        @Override
        public HandSteps of(FirewallChange.DropForward change) {
            Map<String, String> values = new LinkedHashMap<>();
            values.put("protocol", upper(change.port().transport().word()));
            values.put("outside port", change.port().port().toString());
            return HandSteps.of("Remove the port forward of this port.", values);
        }

        @Override
        public HandSteps of(FirewallChange.PutRule change) {
            return HandSteps.of("Add a firewall rule.", rule(change.number(), change.rule()))
                    .triedBy(opened(change.rule()));
        }

        @Override
        public HandSteps of(FirewallChange.ReplaceRule change) {
            return HandSteps.of(
                            "Change firewall rule " + change.number() + " to this.",
                            rule(change.number(), change.rule()))
                    .triedBy(opened(change.rule()));
        }

        @Override
        public HandSteps of(FirewallChange.DropRule change) {
            return HandSteps.of("Remove this firewall rule.", Map.of("place in the list", "" + change.number()));
        }

        @Override
        public HandSteps of(FirewallChange.MoveRule change) {
            Map<String, String> values = new LinkedHashMap<>();
            values.put("from place", "" + change.from());
            values.put("to place", "" + change.to());
            return HandSteps.of("Move this firewall rule.", values);
        }

        @Override
        public HandSteps of(DeviceChange.Demote change) {
            return HandSteps.of(
                    "Take the administrator's rights from the account " + change.account()
                            + "; leave it its VPN access.",
                    Map.of("account", change.account()));
        }

        @Override
        public HandSteps of(DeviceChange.SetClock change) {
            return HandSteps.of(
                    "Set the clock, and switch time synchronisation (NTP) on.",
                    Map.of("NTP server", "the office's own, or the one that the device offers"));
        }

        @Override
        public HandSteps of(DeviceChange.Reload change) {
            return HandSteps.of("Apply the saved settings: reload the VPN service, or restart the device.", Map.of());
        }

        @Override
        public HandSteps of(DeviceChange.PutNetwork change) {
            Network n = change.network();
            Map<String, String> values = new LinkedHashMap<>();
            values.put("network", n.network().toString());
            n.pool().ifPresent(p -> {
                values.put("DHCP pool from", p.first().toString());
                values.put("DHCP pool to", p.last().toString());
            });
            n.reserved().forEach((host, address) -> values.put("address reserved for " + host, address.toString()));
            return HandSteps.of("Set the inside network " + n.name() + ".", values);
        }

        @Override
        public HandSteps of(DeviceChange.SetZone change) {
            return HandSteps.of("Set the time zone.", Map.of("time zone", change.zone()));
        }

        private static Tries opened(FilterRule r) {
            return r.allow()
                    ? r.transport()
                            .map(t -> Tries.opened(new Opened(t, r.ports(), Optional.empty())))
                            .orElse(Tries.NOTHING)
                    : Tries.NOTHING;
        }

        private static Map<String, String> settings(Map<Attribute, String> values) {
            Map<String, String> out = new LinkedHashMap<>();
            values.forEach((attribute, value) -> out.put(attribute.word(), value));
            return out;
        }

        private static Map<String, String> rule(int number, FilterRule r) {
            Map<String, String> out = new LinkedHashMap<>();
            out.put("place in the list", number + "; the first rule that matches decides");
            out.put("action", r.allow() ? "allow" : "deny");
            out.put("comes in from", r.via().map(Side::word).orElse("any side"));
            out.put("protocol", r.transport().map(t -> upper(t.word())).orElse("any"));
            if (!r.ports().isAny()) {
                out.put("destination port", r.ports().toString());
            }
            out.put("source", r.source().map(Object::toString).orElse("any"));
            out.put(
                    "destination",
                    r.toDevice()
                            ? "this device"
                            : r.destination().map(Object::toString).orElse("any"));
            return out;
        }

        private static String upper(String word) {
            return word.toUpperCase(Locale.ROOT);
        }
    }

    /** In lines, for a mail or a terminal. */
    public List<String> lines() {
        List<String> out = new ArrayList<>();
        out.add(what);
        values.forEach((label, value) -> out.add("  " + label + ": " + value));
        return out;
    }
}
