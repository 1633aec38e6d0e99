package tender.service.profile;

import com.openhtmltopdf.extend.FSSupplier;
import com.openhtmltopdf.outputdevice.helper.BaseRendererBuilder.FontStyle;
import com.openhtmltopdf.outputdevice.helper.ExternalResourceControlPriority;
import com.openhtmltopdf.pdfboxout.PdfRendererBuilder;
import com.openhtmltopdf.util.XRLog;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import tender.core.sheet.SheetHtml;

/** A sheet as PDF (ISO 32000), A4, from its HTML; its fonts are inside, so that it looks the same anywhere. */
public final class SheetPdf {
    private static final int PLAIN = 400;
    private static final int BOLD = 600;
    private static final int HEADING = 700;

    static {
        XRLog.setLoggingEnabled(false); // it tells each font and style that it tries
    }

    private SheetPdf() {}

    /** @param html well-formed XML, with the fonts of {@link SheetHtml} */
    public static byte[] of(String html) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        PdfRendererBuilder builder = new PdfRendererBuilder()
                .useFont(font("LiberationSans-Regular"), SheetHtml.SANS, PLAIN, FontStyle.NORMAL, true)
                .useFont(font("LiberationSans-Bold"), SheetHtml.SANS, BOLD, FontStyle.NORMAL, true)
                .useFont(font("LiberationSans-Bold"), SheetHtml.SANS, HEADING, FontStyle.NORMAL, true)
                .useFont(font("LiberationMono-Bold"), SheetHtml.MONO, BOLD, FontStyle.NORMAL, true)
                .useExternalResourceAccessControl(
                        (uri, type) -> false, ExternalResourceControlPriority.RUN_BEFORE_RESOLVING_URI)
                .withHtmlContent(html, null)
                .toStream(out);
        try {
            builder.run();
        } catch (IOException e) {
            throw new UncheckedIOException("a sheet in memory cannot fail to be written", e);
        }
        return out.toByteArray();
    }

    private static FSSupplier<InputStream> font(String name) {
        return () -> SheetPdf.class.getResourceAsStream("/liberation/" + name + ".ttf");
    }
}
