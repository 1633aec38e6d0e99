package tender.client;

import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.ProblemCode;
import tender.api.RoundApi;

/** Listeners that are tried on a schedule. */
final class RoundCommands {
    private static final int MOST = 10_000;
    private static final String BROKEN = "pptp"; // not worth a trial: it should be off

    private RoundCommands() {}

    private static List<RoundApi.Round> all(Calls calls) {
        return calls.list("/rounds", RoundApi.Round.class, MOST);
    }

    private static List<RoundApi.Round> chosen(Calls calls, Optional<String> gateway, Optional<String> listener) {
        List<RoundApi.Round> out = all(calls).stream()
                .filter(r -> gateway.isEmpty() || r.gateway().equals(gateway.get()))
                .filter(r -> listener.isEmpty() || r.listener().equals(listener.get()))
                .toList();
        if (out.isEmpty()) {
            throw CallFailure.of(ProblemCode.NOT_FOUND, "there is no such listener; see tender round list");
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
                "Try a listener every so often, from now on, with a canary of its own.",
                "A verdict that changes raises a finding, and word by mail or web call where that is set."
            },
            footer = {
                "",
                "  tender round set pier2",
                "  tender round set orrin-fw phones --every 5m --no-word 22:00-06:00",
                "  tender round set --all --every 15m"
            })
    static final class Put extends Verb {
        @Parameters(arity = "0..1", paramLabel = "GATEWAY")
        Optional<String> gateway;

        @Parameters(arity = "0..1", paramLabel = "LISTENER", description = "Default: all of the gateway's")
        Optional<String> listener;

        @Option(names = "--all", description = "Every listener of every gateway.")
        boolean everything;

        @Option(names = "--every", paramLabel = "TIME", description = "Such as 5m or 1h, from 1m to 24h. Default: 15m")
        String every = "15m";

        @Option(
                names = "--no-word",
                paramLabel = "FROM-TO",
                description = "Send no word between these times of the day (UTC), such as 22:00-06:00.")
        Optional<String> noWord;

        @Option(names = "--yes", description = "Do not ask.")
        boolean yes;

        @Override
        int run() {
            if (everything == gateway.isPresent()) {
                throw CallFailure.of(ProblemCode.MALFORMED, "say either a gateway or --all");
            }
            Calls calls = calls();
            // by name, the service says why a kind is not tried; of many, those are left out
            List<RoundApi.Round> those = chosen(calls, gateway, listener).stream()
                    .filter(r -> listener.isPresent() || !r.protocol().equals(BROKEN))
                    .toList();
            if (!terminal.confirmed(
                    "Try " + those.size() + (those.size() == 1 ? " listener" : " listeners") + " every " + every
                            + "? Each gets a canary at its gateway.",
                    yes || those.size() == 1)) {
                return 1;
            }
            String[] times = noWord.map(q -> q.split("-", 2)).orElse(new String[0]);
            if (times.length == 1) {
                throw CallFailure.of(ProblemCode.MALFORMED, "--no-word is written FROM-TO, such as 22:00-06:00");
            }
            RoundApi.Put put = new RoundApi.Put(
                    (int) seconds(every).toSeconds(),
                    times.length == 2 ? Optional.of(times[0]) : Optional.empty(),
                    times.length == 2 ? Optional.of(times[1]) : Optional.empty());
            for (RoundApi.Round r : those) {
                calls.post("/rounds/" + r.id(), put, RoundApi.Round.class);
                terminal.say(r.gateway() + " " + r.listener() + " is tried every " + words(put.everySeconds()));
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
            name = "drop",
            mixinStandardHelpOptions = true,
            description = "Try a listener no more; what its gateway's other listeners do stays.",
            footer = {"", "  tender round drop orrin-fw phones"})
    static final class Drop extends Verb {
        @Parameters(paramLabel = "GATEWAY")
        String gateway;

        @Parameters(paramLabel = "LISTENER")
        String listener;

        @Override
        int run() {
            Calls calls = calls();
            for (RoundApi.Round r : chosen(calls, Optional.of(gateway), Optional.of(listener))) {
                calls.delete("/rounds/" + r.id());
                terminal.say(r.gateway() + " " + r.listener() + " is tried no more");
            }
            return 0;
        }
    }

    @Command(
            name = "list",
            mixinStandardHelpOptions = true,
            description = "All listeners now: proven or not, since when, how often over a day and a month.")
    static final class Ls extends Verb {
        @Override
        int run() {
            List<RoundApi.Round> all = all(calls());
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("GATEWAY", "LISTENER", "STATE", "SINCE", "DAY", "MONTH", "EVERY", "CAUSE"),
                        all.stream().map(Ls::row).toList(),
                        "no listeners yet; add a gateway: tender gateway add");
            }
            return all.stream().anyMatch(r -> r.proven().equals(Optional.of(false))) ? 1 : 0;
        }

        private static List<String> row(RoundApi.Round r) {
            return List.of(
                    r.gateway(),
                    r.listener(),
                    r.verdict()
                            .orElse(
                                    r.everySeconds().isEmpty()
                                            ? "not tried"
                                            : r.cause().isPresent() ? "cannot be tried" : "not tried yet"),
                    r.since().map(Terminal::ago).orElse(""),
                    share(r.day()),
                    share(r.month()),
                    r.everySeconds().map(RoundCommands::words).orElse(""),
                    r.rung().map(x -> x + ": ").orElse("") + r.cause().orElse(""));
        }
    }

    @Command(
            name = "history",
            mixinStandardHelpOptions = true,
            description = "How a listener's rounds went, oldest first.",
            footer = {"", "  tender round history pier2 wg0 --days 7"})
    static final class History extends Verb {
        @Parameters(paramLabel = "GATEWAY")
        String gateway;

        @Parameters(paramLabel = "LISTENER")
        String listener;

        @Option(names = "--days", description = "How far back, 1 to 90. Default: 30")
        int days = 30;

        @Override
        int run() {
            Calls calls = calls();
            RoundApi.Round r =
                    chosen(calls, Optional.of(gateway), Optional.of(listener)).get(0);
            List<RoundApi.Result> all =
                    calls.list("/rounds/" + r.id() + "/history?days=" + days, RoundApi.Result.class, MOST);
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
                        "no rounds yet; begin: tender round set " + gateway + " " + listener);
            }
            return 0;
        }
    }
}
