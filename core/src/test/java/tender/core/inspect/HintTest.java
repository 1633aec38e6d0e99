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

                What Tender says about a file before anybody uses it: `tender profile inspect FILE|FOLDER …`, and "Inspect a file" in the console. *error*: it cannot be used as it is, or should not be; *warning*: something is weak or will stop working; *notice*: worth knowing.
                If a note is about a line, it gives the line's number, and the value unless it is secret; secrets are never shown. *Dangerous* files are not handed out until somebody decides.

                Tender judges whether the VPN program accepts a file by that program's rules: wg and wg-quick for WireGuard, OpenVPN 2.6 for OpenVPN, strongSwan 5.9 for IKEv2; it reads certificates, keys and lists as OpenSSL 3.0 does. The tests compare all of this with the real programs over thousands of modified files.
                Generated from the table in the code.

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
