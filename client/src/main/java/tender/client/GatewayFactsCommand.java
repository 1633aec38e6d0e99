package tender.client;

import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.ChangeApi;

@Command(
        name = "facts",
        mixinStandardHelpOptions = true,
        description = "All that a gateway said of itself; --explain puts each setting into plain words.")
final class GatewayFactsCommand extends Verb {
    @Parameters(paramLabel = "NAME")
    String name;

    @Option(names = "--explain", description = "Say what each setting does, what it costs, and a safe value.")
    boolean explain;

    @Override
    int run() {
        Calls calls = calls();
        ChangeApi.Facts f =
                calls.get("/gateways/" + GatewayCommands.find(calls, name).id() + "/facts", ChangeApi.Facts.class);
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
                terminal.print(String.format("  %-18s %s", s.setting(), s.value()));
                if (explain) {
                    terminal.print("      " + s.does());
                    terminal.print("      " + s.costs() + " Safe: " + s.safe() + ".");
                }
            }
        }
        return 0;
    }

    private void lines(String label, List<String> lines) {
        lines.forEach(l -> terminal.print(String.format("%-12s %s", label, l)));
    }
}
