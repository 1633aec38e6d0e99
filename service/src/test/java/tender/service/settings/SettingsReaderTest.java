package tender.service.settings;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class SettingsReaderTest {
    @TempDir
    Path folder;

    private Map<String, String> sound;

    @BeforeEach
    void write() throws Exception {
        Files.writeString(folder.resolve("password"), "secret\n");
        sound = new HashMap<>(Map.of(
                "TENDER_DATABASE_URL",
                "jdbc:postgresql://127.0.0.1:5432/tender",
                "TENDER_DATABASE_PASSWORD_FILE",
                folder.resolve("password").toString()));
    }

    @Test
    void theDocumentedTableIsTheCodes() throws Exception {
        Path document = Path.of(System.getProperty("tender.root"), "docs/settings.md");

        assertThat(Files.readString(document)).contains(SettingsTable.markdown());
    }

    @Test
    void theEnvironmentGoesBeforeTheFile() throws Exception {
        Path file = Files.writeString(folder.resolve("tender.properties"), "http.port = 9000\nwatch.seconds = 9\n");
        sound.put("TENDER_HTTP_PORT", "9001");
        Settings settings = SettingsReader.read(Optional.of(file), sound);

        assertThat(settings.console().port()).isEqualTo(9001);
        assertThat(settings.watch()).hasSeconds(9);
        assertThat(settings.toString()).doesNotContain("secret\n").contains("(secret)");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "TENDER_HTTP_PORT | 99999 | http.port",
                "TENDER_HTTP_PORT | x | http.port",
                "TENDER_HTTP_BIND | 0.0.0.0 | http.base-url",
                "TENDER_HTTP_BASE_URL | http://tender.skerrivane.example | http.base-url",
                "TENDER_STAFF_BASE_URL | https://a.example/path | staff.base-url",
                "TENDER_DATABASE_URL | postgres://x | database.url",
                "TENDER_DATABASE_PASSWORD_FILE | /nowhere | database.password-file",
                "TENDER_WATCH_SECONDS | 0 | watch.seconds",
                "TENDER_SECOND_FACTOR_REQUIRED | yes | second-factor.required",
                "TENDER_CALLABLE_LOCAL | 127.10.0.0/8 | callable.local",
                "TENDER_RESOLVER_ADDRESS | dns | resolver.address",
                "TENDER_JOB_WORKERS | 1 | job.workers"
            })
    void refusesWhatIsOutOfRangeAndNamesKeyAndRange(String variable, String value, String key) {
        sound.put(variable, value);

        assertThatThrownBy(() -> SettingsReader.read(Optional.empty(), sound))
                .isInstanceOf(SettingsException.class)
                .hasMessageContaining("setting " + key)
                .hasMessageContaining("is expected");
    }

    @Test
    void refusesAKeyThatDoesNotExist() throws Exception {
        Path file = Files.writeString(folder.resolve("tender.properties"), "http.prot = 9000\n");

        assertThatThrownBy(() -> SettingsReader.read(Optional.of(file), sound)).hasMessageContaining("http.prot");
    }
}
