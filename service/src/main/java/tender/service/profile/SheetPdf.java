package tender.service.profile;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDPage;
import org.apache.pdfbox.pdmodel.PDPageContentStream;
import org.apache.pdfbox.pdmodel.common.PDRectangle;
import org.apache.pdfbox.pdmodel.font.PDFont;
import org.apache.pdfbox.pdmodel.font.PDType1Font;
import org.apache.pdfbox.pdmodel.font.Standard14Fonts;
import tender.core.sheet.Prompt;
import tender.core.sheet.SettingsSheet;

/** A settings sheet as one page of PDF (ISO 32000), A4. */
final class SheetPdf {
    private static final float MARGIN = 56;
    private static final float VALUE_AT = 190;
    private static final float LINE = 15;
    private static final float BODY = 11;
    private static final float SMALL = 9;
    private static final PDFont PLAIN = new PDType1Font(Standard14Fonts.FontName.HELVETICA);
    private static final PDFont BOLD = new PDType1Font(Standard14Fonts.FontName.HELVETICA_BOLD);
    private static final PDFont MONO = new PDType1Font(Standard14Fonts.FontName.COURIER_BOLD);

    private final PDPageContentStream out;
    private final float width = PDRectangle.A4.getWidth() - 2 * MARGIN;
    private float y = PDRectangle.A4.getHeight() - MARGIN;

    private SheetPdf(PDPageContentStream out) {
        this.out = out;
    }

    static byte[] of(SettingsSheet sheet) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (PDDocument document = new PDDocument()) {
            PDPage page = new PDPage(PDRectangle.A4);
            document.addPage(page);
            document.getDocumentInformation().setTitle(plain(sheet.title()));
            try (PDPageContentStream out = new PDPageContentStream(document, page)) {
                new SheetPdf(out).draw(sheet);
            }
            document.save(bytes);
        } catch (IOException e) {
            throw new UncheckedIOException("a page in memory cannot fail to be written", e);
        }
        return bytes.toByteArray();
    }

    private void draw(SettingsSheet sheet) throws IOException {
        text(BOLD, 15, 0, width, sheet.title());
        text(PLAIN, BODY, 0, width, "For " + sheet.platform().title());
        for (String warning : sheet.warnings()) {
            text(BOLD, BODY, 0, width, "Weak: " + warning);
        }
        y -= LINE / 2;
        int number = 1;
        for (Prompt p : sheet.prompts()) {
            rule();
            float top = y;
            text(BOLD, BODY, 0, VALUE_AT - 10, number++ + ". " + p.label());
            float after = y;
            y = top;
            boolean literal = p.kind() == Prompt.Kind.TYPE || p.kind() == Prompt.Kind.FILE;
            text(literal ? MONO : PLAIN, BODY, VALUE_AT, width - VALUE_AT, p.value());
            text(PLAIN, SMALL, VALUE_AT, width - VALUE_AT, p.meaning());
            y = Math.min(y, after) - LINE / 3;
        }
        rule();
        for (String fact : sheet.facts()) {
            text(PLAIN, BODY, 0, width, fact);
        }
    }

    private void rule() throws IOException {
        out.setLineWidth(0.5f);
        out.moveTo(MARGIN, y);
        out.lineTo(MARGIN + width, y);
        out.stroke();
        y -= LINE;
    }

    private void text(PDFont font, float size, float indent, float room, String text) throws IOException {
        for (String line : wrapped(font, size, room, plain(text))) {
            out.beginText();
            out.setFont(font, size);
            out.newLineAtOffset(MARGIN + indent, y);
            out.showText(line);
            out.endText();
            y -= Math.max(LINE, size * 1.3f) * (size < BODY ? 0.85f : 1);
        }
    }

    private static List<String> wrapped(PDFont font, float size, float room, String text) throws IOException {
        List<String> out = new ArrayList<>();
        StringBuilder line = new StringBuilder();
        for (String word : text.split(" ")) {
            String rest = word;
            String joined = line.isEmpty() ? rest : line + " " + rest;
            if (font.getStringWidth(joined) / 1000 * size <= room) {
                line.setLength(0);
                line.append(joined);
                continue;
            }
            if (!line.isEmpty()) {
                out.add(line.toString());
            }
            // a word that is wider than the line, such as a fingerprint, is broken
            int fits = rest.length();
            while (fits > 1 && font.getStringWidth(rest.substring(0, fits)) / 1000 * size > room) {
                fits--;
                if (font.getStringWidth(rest.substring(0, fits)) / 1000 * size <= room) {
                    out.add(rest.substring(0, fits));
                    rest = rest.substring(fits);
                    fits = rest.length();
                }
            }
            line.setLength(0);
            line.append(rest);
        }
        out.add(line.toString());
        return out;
    }

    /** The built-in fonts know Latin letters; others become a question mark rather than fail. */
    private static String plain(String text) {
        StringBuilder out = new StringBuilder();
        text.codePoints().forEach(c -> {
            boolean known = c >= 0x20 && c < 0x7f || c >= 0xa0 && c <= 0xff;
            out.appendCodePoint(known ? c : '?');
        });
        return out.toString();
    }
}
