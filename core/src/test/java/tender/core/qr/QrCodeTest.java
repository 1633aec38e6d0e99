package tender.core.qr;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.google.zxing.BinaryBitmap;
import com.google.zxing.RGBLuminanceSource;
import com.google.zxing.common.HybridBinarizer;
import com.google.zxing.qrcode.QRCodeReader;
import org.junit.jupiter.api.Test;
import tender.core.wire.MalformedException;

class QrCodeTest {
    private static final int SCALE = 4;

    @Test
    void isReadBackByAScanner() throws Exception {
        String text = "[Interface]\nPrivateKey = x\n# é\n".repeat(9);
        QrCode code = QrCode.of(text);
        int width = code.size() * SCALE;
        int[] pixels = new int[width * width];
        for (int y = 0; y < width; y++) {
            for (int x = 0; x < width; x++) {
                pixels[y * width + x] = code.isDark(x / SCALE, y / SCALE) ? 0xff000000 : 0xffffffff;
            }
        }
        BinaryBitmap picture = new BinaryBitmap(new HybridBinarizer(new RGBLuminanceSource(width, width, pixels)));

        assertThat(new QRCodeReader().decode(picture).getText()).isEqualTo(text);
    }

    @Test
    void drawsEveryDarkModuleOnceInItsSvg() {
        QrCode code = QrCode.of("short");
        int dark = 0;
        for (int y = 0; y < code.size(); y++) {
            for (int x = 0; x < code.size(); x++) {
                dark += code.isDark(x, y) ? 1 : 0;
            }
        }
        int drawn = java.util.regex.Pattern.compile("h([0-9]+)v1")
                .matcher(code.svg())
                .results()
                .mapToInt(m -> Integer.parseInt(m.group(1)))
                .sum();

        assertThat(drawn).isEqualTo(dark);
        assertThat(code.blocks().lines()).hasSize((code.size() + 1) / 2);
    }

    @Test
    void refusesMoreThanOneCodeHolds() {
        assertThatThrownBy(() -> QrCode.of("x".repeat(QrCode.MAX_BYTES + 1))).isInstanceOf(MalformedException.class);
    }
}
