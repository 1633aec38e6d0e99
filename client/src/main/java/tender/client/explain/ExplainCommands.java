package tender.client.explain;

import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.WalkApi;
import tender.client.command.ClientCommand;

/** Plain words about settings, ports, networks and tunnel types. */
final class ExplainCommands {
    private ExplainCommands() {}

    @Command(
            name = "settings",
            mixinStandardHelpOptions = true,
            description = "Explain every setting of a listener: what it does, what it costs, a safe value.")
    static final class Settings extends ClientCommand {
        @Parameters(paramLabel = "SETTING", arity = "0..1")
        Optional<String> setting;

        @Override
        protected int run() {
            List<WalkApi.Setting> all = calls().list("/explain/settings", WalkApi.Setting.class, 500).stream()
                    .filter(s -> setting.isEmpty() || s.setting().equals(setting.get()))
                    .toList();
            if (terminal.json) {
                terminal.json(all);
                return 0;
            }
            for (WalkApi.Setting s : all) {
                terminal.print(s.setting());
                terminal.print("  " + s.does());
                terminal.print("  " + s.costs());
                terminal.print("  safe: " + s.safe()
                        + (s.clientsDepend() ? "; files handed out depend on it" : "")
                        + (s.restart().equals("listener") ? "; changing it cuts everyone on the listener" : ""));
            }
            return all.isEmpty() ? 1 : 0;
        }
    }

    @Command(
            name = "ports",
            mixinStandardHelpOptions = true,
            description = "Show the transport and ports that each VPN protocol needs.")
    static final class Ports extends ClientCommand {
        @Override
        protected int run() {
            List<WalkApi.PortSpec> all = calls().list("/explain/ports", WalkApi.PortSpec.class, 100);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("KIND", "REACHED BY", "NOTES"),
                        all.stream()
                                .map(d -> List.of(d.kind(), d.reachedBy(), d.notes()))
                                .toList(),
                        "");
            }
            return 0;
        }
    }

    @Command(
            name = "network",
            mixinStandardHelpOptions = true,
            description = "Explain a network: first, last and usable addresses; checks a pool and reservations.",
            footer = {
                "",
                "  tender explain network 10.20.4.0/24 --pool 10.20.4.100-10.20.4.199 --reserved printer=10.20.4.9"
            })
    static final class Network extends ClientCommand {
        @Parameters(paramLabel = "NETWORK")
        String network;

        @Option(names = "--pool", paramLabel = "FIRST-LAST")
        Optional<String> pool;

        @Option(names = "--reserved", paramLabel = "[NAME=]ADDRESS")
        List<String> reserved = List.of();

        @Override
        protected int run() {
            WalkApi.NetworkWords w = calls().post(
                            "/explain/network",
                            new WalkApi.Network(network, pool, Optional.of(reserved)),
                            WalkApi.NetworkWords.class);
            if (terminal.json) {
                terminal.json(w);
                return w.notes().isEmpty() ? 0 : 1;
            }
            terminal.print(w.network() + w.mask().map(m -> ", mask " + m).orElse(""));
            terminal.print("  first host  " + w.firstUsable());
            terminal.print("  last host   " + w.lastUsable());
            w.broadcast().ifPresent(b -> terminal.print("  broadcast   " + b));
            terminal.print("  hosts       " + w.usable() + " in all, " + w.leased() + " leased from the pool, "
                    + w.reserved() + " reserved, " + w.rest() + " left");
            w.notes().forEach(n -> terminal.print("  ! " + n));
            return w.notes().isEmpty() ? 0 : 1;
        }
    }

    @Command(
            name = "choose",
            mixinStandardHelpOptions = true,
            description = "Suggest a VPN protocol for these needs, with reasons; without needs, list them.",
            footer = {"", "  tender explain choose strict-networks phones"})
    static final class Choose extends ClientCommand {
        @Parameters(paramLabel = "NEED", arity = "0..*")
        List<String> needs = List.of();

        @Override
        protected int run() {
            if (needs.isEmpty()) {
                terminal.table(
                        List.of("NEED", "MEANING"),
                        calls().list("/explain/needs", WalkApi.Need.class, 100).stream()
                                .map(n -> List.of(n.need(), n.words()))
                                .toList(),
                        "");
                return 0;
            }
            List<WalkApi.Choice> all = calls().post("/explain/choose", new WalkApi.Choose(needs), WalkApi.Chosen.class)
                    .items();
            if (terminal.json) {
                terminal.json(all);
                return 0;
            }
            for (WalkApi.Choice c : all) {
                terminal.print(c.title() + (c == all.get(0) ? "  fits best" : ""));
                c.speaksFor().forEach(r -> terminal.print("  + " + r));
                c.speaksAgainst().forEach(r -> terminal.print("  - " + r));
            }
            return 0;
        }
    }
}
