package tender.client;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import picocli.CommandLine;
import tender.api.Page;
import tender.api.ProblemCode;
import tender.api.WatchApi;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.Json;
import tender.client.command.Terminal;

class TerminalTest {
    @ParameterizedTest
    @CsvSource({"0, 0 B", "999, 999 B", "1000, 1.0 kB", "1549999, 1.5 MB", "2500000000, 2.5 GB"})
    void bytesAreShort(long count, String text) {
        assertThat(Terminal.bytes(count)).isEqualTo(text);
    }

    @ParameterizedTest
    @CsvSource({"5, 5 s ago", "89, 89 s ago", "180, 3 min ago", "7300, 2 h ago", "200000, 2 d ago", "-30, 0 s ago"})
    void timesAreAsPeopleSayThem(long secondsBack, String text) {
        assertThat(Terminal.ago(Instant.now().minusSeconds(secondsBack))).isEqualTo(text);
    }

    @Test
    void everyCommandHasADescriptionAndNoneAsksForASecretAsAnOption() {
        CommandLine line = Main.line("completion");
        for (CommandLine thing : line.getSubcommands().values()) {
            assertThat(thing.getCommandSpec().usageMessage().description())
                    .as(thing.getCommandName())
                    .isNotEmpty();
            for (CommandLine verb : thing.getSubcommands().values()) {
                assertThat(verb.getCommandSpec().usageMessage().description())
                        .as(thing.getCommandName() + " " + verb.getCommandName())
                        .isNotEmpty();
                verb.getCommandSpec()
                        .options()
                        .forEach(option -> assertThat(option.longestName())
                                .doesNotMatch("--(password|passphrase|key|secret|token|link)"));
            }
        }
    }

    @Test
    void onlyTheAddressedThingIsBuiltWhole() {
        CommandLine line = Main.line("profile");

        assertThat(line.getSubcommands().get("profile").getSubcommands()).containsKeys("issue", "list", "withdraw");
        assertThat(line.getSubcommands().get("gateway").getSubcommands()).isEmpty();
    }

    @Test
    void anAnswerThatIsNotTendersIsSaidToBeSo() {
        assertThatThrownBy(() -> Json.read("<html>".getBytes(), WatchApi.Health.class))
                .isInstanceOfSatisfying(
                        CallFailure.class, f -> assertThat(f.exitCode()).isEqualTo(3));
        Page<WatchApi.Job> page = Json.page(
                "{\"items\":[{\"id\":\"1\",\"kind\":\"k\",\"later\":7}],\"next\":null}".getBytes(), WatchApi.Job.class);
        assertThat(page.items()).hasSize(1);
        assertThat(page.next()).isEmpty();
    }

    @Test
    void nothingThereIsExitCodeThree() {
        assertThatThrownBy(() -> new Calls("http://127.0.0.1:1", Optional.empty()).get("/me", WatchApi.Health.class))
                .isInstanceOfSatisfying(
                        CallFailure.class, f -> assertThat(f.exitCode()).isEqualTo(3));
        assertThat(List.of(ProblemCode.values())).allSatisfy(code -> {
            assertThat(code.exitCode()).isBetween(1, 4);
            assertThat(code.title()).isNotBlank();
            assertThat(code.remedy()).endsWith(".");
            assertThat(ProblemCode.ofWord(code.word())).isEqualTo(code);
        });
    }
}
