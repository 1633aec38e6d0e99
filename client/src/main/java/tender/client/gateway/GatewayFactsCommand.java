package tender.client.gateway;

import java.util.List;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.ChangeApi;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Found;
import tender.client.command.Terminal;
import tender.core.office.SettingSource;

@Command(
        name = "facts",
        mixinStandardHelpOptions = true,
        description = "Show everything that was read from a gateway; --explain explains each setting.")
final class GatewayFactsCommand extends ClientCommand {
    @Parameters(paramLabel = "NAME")
    String name;

    @Option(names = "--explain", description = "Explain each setting: what it does, what it costs, a safe value.")
    boolean explain;

    @Override
    protected int run() {
        Calls calls = calls();
        ChangeApi.Facts f = calls.get("/gateways/" + Found.gateway(calls, name).id() + "/facts", ChangeApi.Facts.class);
        if (terminal.json) {
            terminal.json(f);
            return 0;
        }
        f.facts().forEach((k, v) -> terminal.print(String.format("%-12s %s", k, v)));
        lines("uplink", f.uplinks());
        lines("network", f.networks());
        lines("interface", f.interfaces());
        lines("forward", f.forwards());
        lines("filter", f.rules());
        lines("account", f.accounts());
        for (ChangeApi.ExplainedListener l : f.listeners()) {
            terminal.print("");
            terminal.print("listener " + l.name() + ", " + l.protocol());
            for (ChangeApi.ExplainedSetting s : l.settings()) {
                terminal.print(String.format("  %-18s %s%s", s.setting(), s.value(), from(s)));
                if (explain) {
                    terminal.print("      " + s.does());
                    terminal.print("      " + s.costs() + " Safe: " + s.safe() + ".");
                }
            }
        }
        return 0;
    }

    /** Where it is known from; what somebody else says otherwise, with its value. */
    private static String from(ChangeApi.ExplainedSetting s) {
        return s.knownFrom().isEmpty()
                ? ""
                : s.knownFrom().stream()
                        .map(k -> SettingSource.of(k.source()).title()
                                + (k.value().equals(s.value()) ? "" : ": " + k.value()) + ", "
                                + Terminal.ago(k.at()))
                        .collect(Collectors.joining("; ", "   (", ")"));
    }

    private void lines(String label, List<String> lines) {
        lines.forEach(l -> terminal.print(String.format("%-12s %s", label, l)));
    }
}
