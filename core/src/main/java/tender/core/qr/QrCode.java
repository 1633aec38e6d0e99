package tender.core.qr;

import com.google.zxing.BarcodeFormat;
import com.google.zxing.EncodeHintType;
import com.google.zxing.WriterException;
import com.google.zxing.common.BitMatrix;
import com.google.zxing.qrcode.QRCodeWriter;
import com.google.zxing.qrcode.decoder.ErrorCorrectionLevel;
import java.util.Map;
import tender.core.wire.MalformedException;

/** A QR code (ISO/IEC 18004) of a text: square, dark modules true, with a quiet zone of four modules. */
public final class QrCode {
    /** Version 40 at level L holds this many bytes; more is refused. */
    public static final int MAX_BYTES = 2_953;

    private final BitMatrix modules;

    private QrCode(BitMatrix modules) {
        this.modules = modules;
    }

    public static QrCode of(String text) {
        if (text.getBytes(java.nio.charset.StandardCharsets.UTF_8).length > MAX_BYTES) {
            throw new MalformedException("too-large", "", "too much for one QR code");
        }
        try {
            Map<EncodeHintType, Object> hints = Map.of(
                    EncodeHintType.ERROR_CORRECTION,
                    ErrorCorrectionLevel.L,
                    EncodeHintType.CHARACTER_SET,
                    "UTF-8",
                    EncodeHintType.MARGIN,
                    4);
            return new QrCode(new QRCodeWriter().encode(text, BarcodeFormat.QR_CODE, 0, 0, hints));
        } catch (WriterException e) {
            throw new MalformedException("too-large", "", "too much for one QR code");
        }
    }

    public int size() {
        return modules.getWidth();
    }

    public boolean isDark(int x, int y) {
        return modules.get(x, y);
    }

    /** Black on white whatever the page's colours, since scanners need the contrast. */
    public String svg() {
        StringBuilder path = new StringBuilder();
        for (int y = 0; y < size(); y++) {
            for (int x = 0; x < size(); x++) {
                int run = 0;
                while (x + run < size() && isDark(x + run, y)) {
                    run++;
                }
                if (run > 0) {
                    path.append('M')
                            .append(x)
                            .append(' ')
                            .append(y)
                            .append('h')
                            .append(run)
                            .append("v1h-")
                            .append(run)
                            .append('z');
                    x += run;
                }
            }
        }
        return "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 " + size() + " " + size()
                + "\" shape-rendering=\"crispEdges\"><rect width=\"100%\" height=\"100%\" fill=\"#fff\"/><path d=\""
                + path + "\" fill=\"#000\"/></svg>";
    }

    /** Half-block characters for a terminal, light on dark reversed so that it scans on a dark ground. */
    public String blocks() {
        StringBuilder out = new StringBuilder();
        for (int y = 0; y < size(); y += 2) {
            for (int x = 0; x < size(); x++) {
                boolean top = !isDark(x, y);
                boolean bottom = y + 1 < size() && !isDark(x, y + 1);
                out.append(top ? bottom ? '█' : '▀' : bottom ? '▄' : ' ');
            }
            out.append('\n');
        }
        return out.toString();
    }
}
