package tender.core.finding;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tender.core.office.Attribute;
import tender.core.office.Device;
import tender.core.office.DeviceChange;
import tender.core.office.Listener;
import tender.core.office.ListenerChange;
import tender.core.office.Office;
import tender.core.office.Protocol;
import tender.core.profile.OpenVpnClient;

/** Rules over how strong a listener and its device are. */
final class StrengthChecks {
    private static final int LEAST_KEY_BITS = 2048;
    private static final Set<String> WEAK_DIGESTS = Set.of("MD5", "SHA1", "NONE", "RIPEMD160");

    private StrengthChecks() {}

    static void listener(Office office, Office.Gateway g, Listener l, Sink sink) {
        if (l.protocol() == Protocol.PPTP) {
            sink.listener(Rule.PROTOCOL_BROKEN, g, l, "protocol pptp")
                    .fix(g.name(), new ListenerChange.RemoveListener(l.name()))
                    .put();
            return;
        }
        if (l.is(Attribute.SHARED_SECRET, "yes")) {
            sink.listener(Rule.PROTOCOL_WEAK, g, l, l.protocol().word() + " with one shared secret")
                    .put();
        }
        ciphers(g, l, sink);
        l.get(Attribute.DIGEST)
                .filter(d -> WEAK_DIGESTS.contains(d.toUpperCase(Locale.ROOT)))
                .ifPresent(d ->
                        set(sink.listener(Rule.DIGEST_WEAK, g, l, "digest " + d), g, l, Attribute.DIGEST, "SHA256"));
        l.get(Attribute.TLS_MINIMUM)
                .or(() -> l.get(Attribute.TLS_VERSION))
                .filter(v -> v.equals("1.0") || v.equals("1.1"))
                .ifPresent(v -> set(
                        sink.listener(Rule.TLS_OLD, g, l, "oldest TLS version " + v),
                        g,
                        l,
                        Attribute.TLS_MINIMUM,
                        "1.2"));
        l.number(Attribute.KEY_BITS)
                .filter(bits -> bits < LEAST_KEY_BITS)
                .ifPresent(bits -> sink.listener(Rule.KEY_SHORT, g, l, bits + " bits")
                        .fix(g.name(), Renewals.certificate(l, office.now()))
                        .put());
        if (l.is(Attribute.COMPRESSION, "yes")) {
            set(sink.listener(Rule.COMPRESSION_ON, g, l, "compression yes"), g, l, Attribute.COMPRESSION, "no");
        }
        if (l.is(Attribute.CLIENT_CERTIFICATE, "no")) {
            set(
                    sink.listener(Rule.CERTIFICATE_NOT_ASKED, g, l, "client-certificate no"),
                    g,
                    l,
                    Attribute.CLIENT_CERTIFICATE,
                    "yes");
        }
        boolean passwords =
                l.get(Attribute.ACCOUNTS).filter(a -> !a.equals("none")).isPresent();
        if (passwords && l.is(Attribute.SECOND_FACTOR, "no")) {
            // no one step: turned on before everyone is enrolled, it locks people out
            sink.listener(
                            Rule.SECOND_FACTOR_MISSING,
                            g,
                            l,
                            "accounts " + l.get(Attribute.ACCOUNTS).get() + ", second-factor no")
                    .put();
        }
        if (l.protocol() == Protocol.OPENVPN && l.is(Attribute.CONTROL_CHANNEL_KEY, "none")) {
            sink.listener(Rule.CONTROL_CHANNEL_KEY_MISSING, g, l, "control-channel-key none")
                    .put();
        }
    }

    private static void ciphers(Office.Gateway g, Listener l, Sink sink) {
        List<String> all = l.words(Attribute.CIPHERS);
        List<String> weak = all.stream().filter(OpenVpnClient::isWeakCipher).toList();
        if (weak.isEmpty()) {
            return;
        }
        List<String> strong =
                all.stream().filter(c -> !OpenVpnClient.isWeakCipher(c)).toList();
        set(
                sink.listener(Rule.CIPHER_WEAK, g, l, "accepts " + String.join(", ", weak)),
                g,
                l,
                Attribute.CIPHERS,
                strong.isEmpty() ? "AES-256-GCM, CHACHA20-POLY1305" : String.join(", ", strong));
    }

    private static void set(Sink.Draft draft, Office.Gateway g, Listener l, Attribute attribute, String value) {
        draft.fix(g.name(), new ListenerChange.SetListener(l.name(), Map.of(attribute, value)))
                .put();
    }

    static void gateway(Office.Gateway g, Sink sink) {
        for (Device.Account a : g.device().accounts()) {
            if (a.vpn() && a.administers()) {
                sink.part(
                                Rule.ACCOUNT_ADMINISTERS,
                                g,
                                "account " + a.name(),
                                a.name() + " may use the tunnel and administer " + g.name())
                        .fix(g.name(), new DeviceChange.Demote(a.name()))
                        .put();
            }
        }
        Optional<Rule> factory = switch (g.factory()) {
            case STILL_WORK -> Optional.of(Rule.FACTORY_CREDENTIALS);
            case NOT_ASKED -> Optional.of(Rule.FACTORY_NOT_ASKED);
            case CHANGED -> Optional.empty();
        };
        factory.ifPresent(rule -> sink.gateway(
                        rule,
                        g,
                        rule == Rule.FACTORY_CREDENTIALS
                                ? "noted: credentials from the factory still work"
                                : "not asked yet")
                .remedy((rule == Rule.FACTORY_CREDENTIALS ? "Change them at the device, then " : "Try them, then ")
                        + "tender gateway set " + g.name() + " --factory changed")
                .put());
    }
}
