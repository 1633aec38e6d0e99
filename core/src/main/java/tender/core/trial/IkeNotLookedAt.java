package tender.core.trial;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import tender.core.ike.IkeSettings;
import tender.core.profile.IkeProfile;
import tender.core.profile.SectionFile;
import tender.core.profile.SectionFile.Setting;

/**
 * What a swanctl connection says that a trial does not do as it stands there, and that may decide trust, keys or reach. Nothing
 * is called proven beside it. Whatever is neither done nor known to decide none of these is such a setting.
 */
final class IkeNotLookedAt {
    /** What the trial does as the file says. */
    private static final Set<String> APPLIED = Set.of(
            "connection remote_addrs",
            "connection remote_port",
            "connection proposals",
            "connection vips",
            "local id",
            "local eap_id",
            "local certs",
            "remote id",
            "remote cacerts",
            "child remote_ts",
            "child esp_proposals");

    /** What decides how a client runs, and neither whom it trusts nor what it reaches. */
    private static final Set<String> OF_NO_MATTER = Set.of(
            "connection aggressive",
            "connection pull",
            "connection dscp",
            "connection encap",
            "connection mobike",
            "connection dpd_delay",
            "connection dpd_timeout",
            "connection fragmentation",
            "connection keyingtries",
            "connection unique",
            "connection local_port",
            "connection reauth_time",
            "connection rekey_time",
            "connection over_time",
            "connection rand_time",
            "connection pools",
            "local round",
            "remote round",
            "local revocation",
            "local cacerts",
            "child updown",
            "child hostaccess",
            "child rekey_time",
            "child life_time",
            "child rand_time",
            "child rekey_bytes",
            "child life_bytes",
            "child rand_bytes",
            "child rekey_packets",
            "child life_packets",
            "child rand_packets",
            "child dpd_action",
            "child start_action",
            "child close_action",
            "child ipcomp",
            "child inactivity",
            "child reqid",
            "child replay_window",
            "child priority",
            "child tfc_padding",
            "child hw_offload",
            "child copy_df",
            "child copy_ecn",
            "child copy_dscp");

    /** Values that say what is done anyway. */
    private static final Map<String, Pattern> USUAL = Map.ofEntries(
            Map.entry("connection version", Pattern.compile("[02]")),
            Map.entry("connection send_cert", Pattern.compile("always|ifasked")),
            Map.entry("connection send_certreq", Pattern.compile("1|yes|true|enabled")),
            Map.entry("connection childless", Pattern.compile("allow|never")),
            Map.entry("connection ppk_required", Pattern.compile("0|no|false|disabled")),
            Map.entry("connection local_addrs", Pattern.compile("%any|0\\.0\\.0\\.0")),
            Map.entry("connection mediation", Pattern.compile("0|no|false|disabled")),
            Map.entry("local auth", Pattern.compile("pubkey|rsa|ecdsa|psk|eap|eap-mschapv2")),
            Map.entry("remote auth", Pattern.compile("pubkey|psk")),
            Map.entry("remote revocation", Pattern.compile("relaxed")),
            Map.entry("child local_ts", Pattern.compile("dynamic")),
            Map.entry("child mode", Pattern.compile("tunnel")),
            Map.entry("child policies", Pattern.compile("1|yes|true|enabled")),
            Map.entry("child sha256_96", Pattern.compile("0|no|false|disabled")));

    private IkeNotLookedAt() {}

    /** In words, in the order of the file. */
    static List<String> of(IkeProfile profile) {
        List<Setting> connection = profile.connection();
        List<String> out = new ArrayList<>();
        for (Setting s : connection) {
            String place = place(s);
            if (!APPLIED.contains(place) && !OF_NO_MATTER.contains(place) && !isUsual(place, s.value())) {
                out.add(s.key() + " (line " + s.line() + ")");
            } else if (place.equals("remote id") && s.value().contains("*")) {
                out.add("the pattern of id (line " + s.line() + ")");
            } else if (place.equals("child remote_ts")
                    && s.value().matches(".*\\[.*|.*,\\s*dynamic\\b.*|dynamic\\s*,.*")) {
                out.add("protocols and ports of remote_ts, or dynamic beside networks (line " + s.line() + ")");
            }
        }
        for (String side : List.of("local", "remote")) {
            Set<String> sections = connection.stream()
                    .filter(s -> s.path().size() == 3 && s.path().get(2).startsWith(side))
                    .map(s -> s.path().get(2))
                    .collect(Collectors.toSet());
            if (sections.size() > 1) {
                out.add("more than one " + side + " section");
            }
        }
        if (profile.list("", "vips").isEmpty()) {
            out.add("no vips: the client asks for no tunnel address");
        }
        if (profile.reach().isEmpty()) {
            out.add("no networks in remote_ts: the client reaches the server alone");
        }
        List<String> notOffered = IkeSettings.notOffered(profile);
        if (!notOffered.isEmpty()) {
            out.add("the proposals " + String.join(", ", notOffered));
        }
        SectionFile.read(profile.section()).includes().forEach(i -> out.add("include (line " + i.line() + ")"));
        return out;
    }

    private static boolean isUsual(String place, String value) {
        Pattern usual = USUAL.get(place);
        return usual != null && usual.matcher(value.toLowerCase(Locale.ROOT)).matches();
    }

    private static String place(Setting s) {
        String section = switch (s.path().size()) {
            case 2 -> "connection";
            case 3 -> s.path().get(2).startsWith("local") ? "local" : "remote";
            case 4 -> s.path().get(2).equals("children") ? "child" : "slot";
            default -> "deeper";
        };
        return section + " " + s.key();
    }
}
