package tender.service.profile;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.cos.COSName;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDPage;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.Test;
import tender.core.sheet.Platform;
import tender.core.sheet.Prompt;
import tender.core.sheet.SettingsSheet;
import tender.core.sheet.SheetHtml;

/** The sheet as PDF, read by another reader. */
class SheetPdfTest {
    private static final String FINGERPRINT = "ab:cd:".repeat(40);

    private static SettingsSheet sheet(int prompts) {
        List<Prompt> all = new ArrayList<>(List.of(
                new Prompt(Prompt.Kind.TYPE, "Server", "orrin.skerrivane.example", "what is called"),
                new Prompt(Prompt.Kind.CHOOSE, "Kind", "IKEv2 <with certificate>", "Łódź, Ægir, Žofie, 5 €"),
                new Prompt(Prompt.Kind.TYPE, "Fingerprint", FINGERPRINT, "to compare")));
        for (int i = all.size(); i < prompts; i++) {
            all.add(new Prompt(Prompt.Kind.TYPE, "Setting " + i, "value " + i, "a setting"));
        }
        return new SettingsSheet(
                "Mara & Søren: phone to orrin-fw",
                Platform.APPLE,
                tender.core.language.StaffTexts.ENGLISH,
                all,
                List.of("it is old"),
                List.of("ends 2027"));
    }

    @Test
    void lettersOfAnyLatinScriptStandInItWithTheirFontsInside() throws Exception {
        try (PDDocument document = Loader.loadPDF(SheetPdf.of(SheetHtml.of(sheet(3))))) {
            String text = new PDFTextStripper().getText(document);

            assertThat(text)
                    .contains("Mara & Søren: phone to orrin-fw", "Łódź, Ægir, Žofie, 5 €", "IKEv2 <with certificate>")
                    .contains("1. Server", "Weak. it is old", "ends 2027");
            assertThat(text.replaceAll("\\s", ""))
                    .as("broken over lines, whole")
                    .contains(FINGERPRINT);
            assertThat(document.getNumberOfPages()).isEqualTo(1);
            for (PDPage page : document.getPages()) {
                for (COSName font : page.getResources().getFontNames()) {
                    assertThat(page.getResources().getFont(font).isEmbedded())
                            .as(font.getName())
                            .isTrue();
                }
            }
        }
    }

    @Test
    void aLongSheetGoesOnOnAnotherPage() throws Exception {
        try (PDDocument document = Loader.loadPDF(SheetPdf.of(SheetHtml.of(sheet(60))))) {
            assertThat(document.getNumberOfPages()).isGreaterThan(1);
            assertThat(new PDFTextStripper().getText(document)).contains("60. Setting 59", "value 59");
        }
    }
}
