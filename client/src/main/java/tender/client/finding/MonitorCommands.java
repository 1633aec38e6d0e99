package tender.client.finding;

import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.MonitorApi;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Terminal;

/** Monitors: trials of listeners on a schedule. */
final class MonitorCommands {
    private static final int MOST = 10_000;
    private static final String BROKEN = "pptp"; // not worth a trial: it should be off

    private MonitorCommands() {}

    private static List<MonitorApi.Monitor> all(Calls calls, Optional<String> gateway, Optional<String> state) {
        Map<String, Optional<String>> asked = new LinkedHashMap<>();
        asked.put("gateway", gateway);
        asked.put("state", state);
        return calls.list(Calls.query("/monitors", asked), MonitorApi.Monitor.class, MOST);
    }

    private static List<MonitorApi.Monitor> chosen(Calls calls, Optional<String> gateway, Optional<String> listener) {
        List<MonitorApi.Monitor> out = all(calls, gateway, Optional.empty()).stream()
                .filter(r -> listener.isEmpty() || r.listener().equals(listener.get()))
                .toList();
        if (out.isEmpty()) {
            throw CallFailure.of(ProblemCode.NOT_FOUND, "there is no such listener; see tender monitor list");
        }
        return out;
    }

    static String words(int seconds) {
        return seconds % 3600 == 0 ? seconds / 3600 + " h" : seconds % 60 == 0 ? seconds / 60 + " min" : seconds + " s";
    }

    private static String share(Optional<Double> share) {
        return share.map(s -> String.format(Locale.ROOT, "%.1f %%", s * 100)).orElse("");
    }

    @Command(
            name = "set",
            mixinStandardHelpOptions = true,
            description = {
                "Monitor a listener: run a trial with its own canary profile on a schedule, starting now.",
                "A result that changes raises a finding and sends an alert by mail or web hook where one is configured."
            },
            footer = {
                "",
                "  tender monitor set pier2",
                "  tender monitor set orrin-fw phones --every 5m --quiet-hours 22:00-06:00",
                "  tender monitor set --all --every 15m"
            })
    static final class Put extends ClientCommand {
        @Parameters(arity = "0..1", paramLabel = "GATEWAY")
        Optional<String> gateway;

        @Parameters(arity = "0..1", paramLabel = "LISTENER", description = "Default: all of the gateway's")
        Optional<String> listener;

        @Option(names = "--all", description = "Monitor every listener of every gateway.")
        boolean everything;

        @Option(names = "--every", paramLabel = "TIME", description = "Such as 5m or 1h, from 1m to 24h. Default: 15m")
        String every = "15m";

        @Option(
                names = "--quiet-hours",
                paramLabel = "FROM-TO",
                description = "Send no alerts between these times of the day (UTC), such as 22:00-06:00.")
        Optional<String> quietHours;

        @Option(names = "--yes", description = "Do not ask.")
        boolean yes;

        @Override
        protected int run() {
            if (everything == gateway.isPresent()) {
                throw CallFailure.of(ProblemCode.MALFORMED, "say either a gateway or --all");
            }
            Calls calls = calls();
            // by name, the service says why a kind is not tried; of many, those are left out
            List<MonitorApi.Monitor> those = chosen(calls, gateway, listener).stream()
                    .filter(r -> listener.isPresent() || !r.protocol().equals(BROKEN))
                    .toList();
            if (!terminal.confirmed(
                    "Monitor " + those.size() + (those.size() == 1 ? " listener" : " listeners") + " every " + every
                            + "? Tender creates a canary profile for each.",
                    yes || those.size() == 1)) {
                return 1;
            }
            String[] times = quietHours.map(q -> q.split("-", 2)).orElse(new String[0]);
            if (times.length == 1) {
                throw CallFailure.of(ProblemCode.MALFORMED, "--quiet-hours is written FROM-TO, such as 22:00-06:00");
            }
            MonitorApi.Put put = new MonitorApi.Put(
                    (int) seconds(every).toSeconds(),
                    times.length == 2 ? Optional.of(times[0]) : Optional.empty(),
                    times.length == 2 ? Optional.of(times[1]) : Optional.empty());
            for (MonitorApi.Monitor r : those) {
                calls.post("/monitors/" + r.id(), put, MonitorApi.Monitor.class);
                terminal.say(r.gateway() + " " + r.listener() + " is monitored every " + words(put.everySeconds()));
            }
            return 0;
        }

        private static Duration seconds(String text) {
            if (!text.matches("\\d{1,5}[smh]")) {
                throw CallFailure.of(ProblemCode.MALFORMED, "--every is written 90s, 15m or 1h");
            }
            return Duration.parse("PT" + text.toUpperCase(Locale.ROOT));
        }
    }

    @Command(
            name = "remove",
            mixinStandardHelpOptions = true,
            description = "Stop monitoring a listener. Other listeners keep their schedule.",
            footer = {"", "  tender monitor remove orrin-fw phones"})
    static final class Remove extends ClientCommand {
        @Parameters(paramLabel = "GATEWAY")
        String gateway;

        @Parameters(paramLabel = "LISTENER")
        String listener;

        @Override
        protected int run() {
            Calls calls = calls();
            for (MonitorApi.Monitor r : chosen(calls, Optional.of(gateway), Optional.of(listener))) {
                calls.delete("/monitors/" + r.id());
                terminal.say(r.gateway() + " " + r.listener() + " is not monitored any more");
            }
            return 0;
        }
    }

    @Command(
            name = "list",
            mixinStandardHelpOptions = true,
            description = {
                "List listeners and how their monitor sees them, worst first: state, since when, availability over a day and 30 days."
            },
            footer = {"", "  tender monitor list --state not-proven", "  tender monitor list --gateway pier2"})
    static final class Ls extends ClientCommand {
        @Option(names = "--gateway", paramLabel = "NAME", description = "Listeners of this gateway.")
        Optional<String> gateway;

        @Option(
                names = "--state",
                paramLabel = "STATE",
                description = "Listeners in this state: not-proven, waiting, proven or not-monitored.")
        Optional<String> state;

        @Override
        protected int run() {
            List<MonitorApi.Monitor> all = all(calls(), gateway, state);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("GATEWAY", "LISTENER", "STATE", "SINCE", "DAY", "MONTH", "EVERY", "CAUSE"),
                        all.stream().map(Ls::row).toList(),
                        gateway.isPresent() || state.isPresent()
                                ? "no such listener; see all: tender monitor list"
                                : "no listeners yet; add a gateway: tender gateway add");
            }
            return all.stream().anyMatch(r -> r.proven().equals(Optional.of(false))) ? 1 : 0;
        }

        private static List<String> row(MonitorApi.Monitor r) {
            return List.of(
                    r.gateway(),
                    r.listener(),
                    r.verdict()
                            .orElse(
                                    r.everySeconds().isEmpty()
                                            ? "not monitored"
                                            : r.cause().isPresent() ? "cannot be tried" : "waiting"),
                    r.since().map(Terminal::ago).orElse(""),
                    share(r.day()),
                    share(r.month()),
                    r.everySeconds().map(MonitorCommands::words).orElse(""),
                    r.rung().map(x -> x + ": ").orElse("") + r.cause().orElse(""));
        }
    }

    @Command(
            name = "history",
            mixinStandardHelpOptions = true,
            description = "Show a listener's monitor results, oldest first.",
            footer = {"", "  tender monitor history pier2 wg0 --days 7"})
    static final class History extends ClientCommand {
        @Parameters(paramLabel = "GATEWAY")
        String gateway;

        @Parameters(paramLabel = "LISTENER")
        String listener;

        @Option(names = "--days", description = "How far back, 1 to 90. Default: 30")
        int days = 30;

        @Override
        protected int run() {
            Calls calls = calls();
            MonitorApi.Monitor r =
                    chosen(calls, Optional.of(gateway), Optional.of(listener)).get(0);
            List<MonitorApi.Result> all =
                    calls.list("/monitors/" + r.id() + "/history?days=" + days, MonitorApi.Result.class, MOST);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("WHEN", "VERDICT", "ROUND TRIP", "WHOLE TRIAL", "FAILS AT"),
                        all.stream()
                                .map(x -> List.of(
                                        x.at().toString(),
                                        x.verdict(),
                                        x.echoMillis()
                                                .map(m -> String.format(Locale.ROOT, "%.1f ms", m))
                                                .orElse(""),
                                        x.millis() + " ms",
                                        x.rung().orElse("")))
                                .toList(),
                        "no results yet; start: tender monitor set " + gateway + " " + listener);
            }
            return 0;
        }
    }
}
