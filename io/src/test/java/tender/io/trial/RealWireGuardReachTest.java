package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.IpAddress;
import tender.core.profile.ClientRules;
import tender.core.profile.WireGuardFile;
import tender.core.trial.Ladder;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.Question;
import tender.core.trial.RungResult;
import tender.core.wire.MalformedException;
import tender.io.names.NameService;

/** WireGuard files on one real gateway: what wg-quick and wireguard-go reach with a file is what the trial says of it. */
class RealWireGuardReachTest {
    private static final String PROVEN = "proven";
    private static final String REFUSED = "refused";
    private static final String NOT_TRIED = "not tried";
    private static final String OPEN = "not looked at";
    private static final TunnelKeyPair MARA = TunnelKeyPair.generate(Lab.RANDOM);
    private static final TunnelKeyPair STRANGER = TunnelKeyPair.generate(Lab.RANDOM);
    private static final String SECRET = "R9bOqJ7hlQe1jyhmAjUMZ0YUQdNvKqBE0XwIVBZmFkI=";

    @TempDir
    static Path folder;

    private static WireGuardLab gateway;
    private static String caller;

    @BeforeAll
    static void open() throws IOException {
        boolean able = WireGuardLab.able() && Shell.has("wg-quick");
        if (!able) {
            System.out.println("SKIPPED: no wireguard-go, wg-quick or right to make namespaces here");
        }
        assumeTrue(able);
        gateway = new WireGuardLab(folder);
        gateway.awaitDevice();
        gateway.admit(MARA, Optional.of(SECRET), "10.96.0.2/32,fd00:96::2/128");
        caller = gateway.space + "-c";
        Shell.run("ip", "netns", "del", caller);
        Shell.need(
                "bash",
                "-c",
                ("ip netns add %1$s && ip link add %1$s-l type veth peer name %2$s-l && ip link set %1$s-l netns %1$s"
                                + " && ip link set %2$s-l netns %2$s && ip -n %2$s addr add 10.220.1.1/24 dev %2$s-l"
                                + " && ip -n %2$s link set %2$s-l up && ip -n %1$s addr add 10.220.1.2/24 dev %1$s-l"
                                + " && ip -n %1$s link set %1$s-l up && ip -n %1$s link set lo up"
                                + " && ip -n %1$s route add %3$s/32 via 10.220.1.1")
                        .formatted(caller, gateway.space, gateway.address));
    }

    @AfterAll
    static void close() {
        if (caller != null) {
            Shell.run("bash", "-c", "for p in $(ip netns pids " + caller + "); do kill $p; done");
            Shell.run("ip", "netns", "del", caller);
        }
        if (gateway != null) {
            gateway.close();
        }
    }

    /** A file, whether the real client reaches the host inside with it, and how the trial ends. */
    private record Row(String name, boolean real, String ours, String file) {}

    private static String base() {
        return "[Interface]\nPrivateKey = " + WireGuardLab.text(MARA)
                + "\nAddress = 10.96.0.2/32\n\n[Peer]\nPublicKey = "
                + gateway.gateway.publicKey() + "\nPresharedKey = " + SECRET
                + "\nAllowedIPs = 10.20.77.0/24, 10.96.0.0/24\nEndpoint = " + at() + "\n";
    }

    private static String at() {
        return gateway.address + ":" + WireGuardLab.PORT;
    }

    private static Row row(String name, boolean real, String ours, String... replacements) {
        String file = base();
        for (int i = 0; i < replacements.length; i += 2) {
            String changed = file.replace(replacements[i], replacements[i + 1]);
            assertThat(changed).as(name).isNotEqualTo(file);
            file = changed;
        }
        return new Row(name, real, ours, file);
    }

    private static List<Row> rows() {
        String another =
                "\n[Peer]\nPublicKey = " + STRANGER.publicKey() + "\nAllowedIPs = %s\nEndpoint = 127.0.0.1:9\n";
        String network = "10.20.77.0/24, 10.96.0.0/24";
        String address = "Address = 10.96.0.2/32\n";
        String end = "Endpoint = " + at() + "\n";
        return List.of(
                row("as it is", true, PROVEN),
                row("an address without its length", true, PROVEN, "10.96.0.2/32", "10.96.0.2"),
                row("keys in small letters", true, PROVEN, "Endpoint", "endpoint", "AllowedIPs", "allowedips"),
                row("ends of lines of Windows", true, PROVEN, "\n", "\r\n"),
                row(
                        "comments",
                        true,
                        PROVEN,
                        end,
                        end + "# Endpoint = 192.0.2.1:5\n",
                        address,
                        "Address = 10.96.0.2/32 # mara\n"),
                row(
                        "what changes nothing",
                        true,
                        PROVEN,
                        address,
                        address + "MTU = 1380\nListenPort = 51888\nFwMark = 0x20\nPostUp = true\n"),
                row("kept alive", true, PROVEN, end, end + "PersistentKeepalive = 25\n"),
                row("one host", true, PROVEN, network, "10.20.77.20/32"),
                row("two halves of everything", true, PROVEN, network, "0.0.0.0/1, 128.0.0.0/1"),
                row("a network with bits of a host", true, PROVEN, network, "10.20.77.9/24"),
                row("networks on two lines", true, PROVEN, network, "10.96.0.0/24\nAllowedIPs = 10.20.77.0/24"),
                row("routes in the usual table", true, PROVEN, address, address + "Table = auto\n"),
                row("no routes", false, OPEN, address, address + "Table = off\n"),
                row("routes in a table of their own", false, OPEN, address, address + "Table = 1234\n"),
                row("another peer with a wider network", true, PROVEN, end, end + another.formatted("10.20.0.0/16")),
                row(
                        "another peer with a narrower one",
                        false,
                        "port-refused",
                        end,
                        end + another.formatted("10.20.77.16/28")),
                row(
                        "another peer with the same, behind",
                        false,
                        "port-refused",
                        end,
                        end + another.formatted("10.20.77.0/24")),
                row(
                        "another peer with the same, before",
                        true,
                        PROVEN,
                        address,
                        address + another.formatted("10.20.77.0/24")),
                row(
                        "another peer that cannot be called",
                        false,
                        NOT_TRIED,
                        end,
                        end + another.formatted("10.20.77.0/24").replace("Endpoint = 127.0.0.1:9\n", "")),
                row("the endpoint twice", true, PROVEN, end, "Endpoint = 192.0.2.1:5\n" + end),
                row("another office alone", false, "outside-reach", network, "10.21.0.0/16, 10.96.0.0/24"),
                row("an address that is not admitted", false, "tunnel-address-differs", "10.96.0.2/32", "10.96.0.9/32"),
                row(
                        "a stranger's key",
                        false,
                        "path-blocked, gateway-key-differs, client-unknown",
                        WireGuardLab.text(MARA),
                        WireGuardLab.text(STRANGER)),
                row(
                        "another gateway's key",
                        false,
                        "path-blocked, gateway-key-differs, client-unknown",
                        gateway.gateway.publicKey().toString(),
                        STRANGER.publicKey().toString()),
                row(
                        "its own key as the gateway's",
                        false,
                        "gateway-key-own",
                        gateway.gateway.publicKey().toString(),
                        MARA.publicKey().toString()),
                row("another preshared key", false, "preshared-key-differs", SECRET, "Q" + SECRET.substring(1)),
                row("no preshared key", false, "preshared-key-differs", "PresharedKey = " + SECRET + "\n", ""),
                row("a port where nothing is", false, "port-refused", at(), gateway.address + ":51999"),
                row("no endpoint", false, NOT_TRIED, end, ""),
                row("no networks", false, "outside-reach", "AllowedIPs = " + network + "\n", ""),
                row("no peer", false, NOT_TRIED, base().substring(base().indexOf("\n[Peer]")), ""),
                row("no private key", false, NOT_TRIED, "PrivateKey = " + WireGuardLab.text(MARA) + "\n", ""),
                row("no address", false, NOT_TRIED, address, ""),
                row("the mark of UTF-8 before it", false, REFUSED, "[Interface]", "\ufeff[Interface]"),
                row("a key that is none", false, REFUSED, end, end + "Colour = blue\n"),
                row(
                        "a section that is none",
                        false,
                        REFUSED,
                        end,
                        end + "[Peers]\nPublicKey = " + STRANGER.publicKey() + "\n"),
                row(
                        "a key cut short",
                        false,
                        REFUSED,
                        WireGuardLab.text(MARA),
                        WireGuardLab.text(MARA).substring(1)),
                row("a network that is none", false, REFUSED, network, "10.20.77.0/33"),
                row("an endpoint without its port", false, REFUSED, at(), gateway.address),
                row("a peer without its key", false, REFUSED, "PublicKey = " + gateway.gateway.publicKey() + "\n", ""));
    }

    @Test
    void theTrialSaysWhatTheRealClientReaches() throws IOException {
        List<String> wrong = new ArrayList<>();
        List<Row> rows = rows();
        for (Row row : rows) {
            boolean real = really(row) || row.real() && really(row); // a busy machine may have been too slow for it
            String ours = ours(row);
            boolean fits = row.ours().equals(OPEN) ? ours.contains(OPEN) : ours.equals(row.ours());
            if (real != row.real() || !fits || !real && ours.equals(PROVEN)) {
                wrong.add(row.name() + ": the real client " + (real ? "reaches" : "does not reach") + " it, ours: "
                        + ours + ", expected " + row.real() + " and " + row.ours());
            }
        }
        System.out.println(
                "measured: " + rows.size() + " WireGuard files on one real gateway, " + wrong.size() + " told wrongly");
        assertThat(wrong).as("of " + rows.size()).isEmpty();
    }

    private static boolean really(Row row) throws IOException {
        Path file = Files.writeString(folder.resolve("tndc.conf"), row.file(), StandardCharsets.UTF_8);
        String in = "ip netns exec " + caller + " ";
        String up = "WG_QUICK_USERSPACE_IMPLEMENTATION=wireguard-go " + in + "wg-quick up " + file;
        boolean there = Shell.run("bash", "-c", up).code() == 0
                && Shell.run("bash", "-c", in + "ping -c 3 -i 0.2 -W 0.4 " + Lab.INSIDE_HOST)
                                .code()
                        == 0;
        Shell.run("bash", "-c", in + "wg-quick down " + file + "; " + in + "ip link del tndc; true");
        return there;
    }

    private static String ours(Row row) {
        if (ClientRules.refusal(row.file()).isPresent()) {
            return REFUSED;
        }
        Ladder ladder;
        try {
            Question question = Question.of(
                    WireGuardFile.read(row.file()).file(),
                    Optional.empty(),
                    Optional.of(IpAddress.parse(Lab.INSIDE_HOST)));
            ladder = Ladder.judge(
                    question,
                    new WireGuardTrial(
                                    question,
                                    name -> new NameService.Answer(NameService.Status.UNKNOWN, List.of()),
                                    MeasurementOptions.NOTHING,
                                    rung -> {})
                            .run(),
                    Optional.empty());
        } catch (MalformedException e) {
            return NOT_TRIED;
        }
        if (ladder.isProven()) {
            return PROVEN;
        }
        return ladder.failure()
                .map(f -> f.causes().stream().map(c -> c.code()).collect(java.util.stream.Collectors.joining(", ")))
                .orElseGet(() -> ladder.rungs().stream()
                        .map(RungResult::detail)
                        .filter(d -> d.contains(OPEN))
                        .findFirst()
                        .orElse("no failure: " + ladder));
    }
}
