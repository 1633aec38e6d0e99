package tender.core.office;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;

class WantedFileTest {
    @Test
    void aPersonReadsWhomToCreateWhoseCertificateToRenewAndWhatToDoWithTheFiles() {
        assertThat(WantedFile.words("pier7", List.of())).isEmpty();
        assertThat(WantedFile.words("pier7", List.of(new WantedFile("bo", false))))
                .isEqualTo("On pier7, create the user bo. Export the client file and import it.");
        assertThat(WantedFile.words(
                        "pier7",
                        List.of(
                                new WantedFile("bo", false),
                                new WantedFile("ana", false),
                                new WantedFile("cleo", true))))
                .startsWith("On pier7, create the users ana, bo, and make new certificates or keys for the user cleo")
                .endsWith("Export a client file for each and import them, as single files or as one archive.");
    }
}
