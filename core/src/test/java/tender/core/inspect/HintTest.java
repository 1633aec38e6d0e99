package tender.core.inspect;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;

class HintTest {
    private static String markdown() {
        StringBuilder out = new StringBuilder("""
                # Inspection

                What Tender says of a file before anybody uses it: `tender profile inspect FILE|FOLDER …`, and "Inspect a file" in the console. *error*: it cannot be used as it is, or should not be; *warning*: something is weak or will stop working; *notice*: worth knowing.
                Where a line is meant, its number stands beside it, with the value where that is no secret; a file's secrets are kept back wherever they stand in it. *Dangerous* files are held back from handing out until somebody decides.

                Whether its own program takes a file is judged by that program's rules: wg and wg-quick for WireGuard, OpenVPN 2.6 for OpenVPN, strongSwan 5.9 for IKEv2; certificates, keys and lists are read as OpenSSL 3.0 reads them. All are held against the real programs over thousands of changed files.
                Made from the table in the code; a test holds the two together.

                | code | | what it says | what to do |
                | --- | --- | --- | --- |
                """);
        for (Hint h : Hint.values()) {
            out.append("| `")
                    .append(h.code())
                    .append("` | ")
                    .append(h.severity().name().toLowerCase(java.util.Locale.ROOT))
                    .append(h.isDangerous() ? ", dangerous" : "")
                    .append(" | ")
                    .append(h.says())
                    .append(" | ")
                    .append(h.remedy())
                    .append(" |\n");
        }
        return out.toString();
    }

    @Test
    void theDocumentIsMadeFromTheHints() throws IOException {
        Path document = Path.of("../docs/inspection.md");
        if (Boolean.getBoolean("write.docs")) {
            Files.writeString(document, markdown());
        }
        assertThat(document).hasContent(markdown());
    }
}
