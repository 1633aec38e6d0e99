package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.openqa.selenium.By;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.support.ui.ExpectedConditions;
import tender.standins.exported.ExportedFiles;
import tender.standins.office.SmallOffice;

/** From an empty console and a folder of exported files to the first profile that is proven and handed out; every input is counted. */
class FirstProofTest extends InChromium {
    private static final int MOST = 25;

    @TempDir
    static Path folder;

    private static SmallOffice office;
    private int inputs = 3; // name, password and the button of the sign-in

    @BeforeAll
    static void open() throws Exception {
        Namespace.needWireGuard();
        office = SmallOffice.start(folder.resolve("office"), "127.10.106.1");
        signIn(new Tender(folder, office), folder);
    }

    @AfterAll
    static void close() throws Exception {
        if (office != null) {
            browser.quit();
            tender.close();
            office.close();
        }
    }

    private void click(WebElement element) {
        inputs++;
        element.click();
    }

    private static WebElement link(String text) {
        return patiently()
                .until(ExpectedConditions.elementToBeClickable(By.xpath("//a[normalize-space()=\"" + text + "\"]")));
    }

    @Test
    void anEmptyConsoleLeadsToTheFirstProofAndHandout() throws Exception {
        // the real server is called by a name, as a client in a hotel would
        int port = RealWireGuard.freePort("127.10.106.1");
        ExportedFiles exported = new ExportedFiles(
                Instant.now(), ExportedFiles.places(2, new ExportedFiles.Place(SmallOffice.NAME, port)));
        Path given = folder.resolve("given");
        exported.write(given);
        try (RealWireGuard server = new RealWireGuard(folder, 12, port, exported)) {
            text("What do you have?");
            click(link("Files that your devices exported"));
            WebElement choose =
                    patiently().until(ExpectedConditions.presenceOfElementLocated(By.cssSelector("input[type=file]")));
            inputs++;
            choose.sendKeys(String.join(
                    "\n",
                    exported.files().keySet().stream()
                            .map(f -> given.resolve(f).toString())
                            .toList()));
            text("4 new gateways, 4 new sites, 9 new people, 11 new devices; 10 of 11 client files can be imported.");
            fits("what is proposed");
            window(390, 800, true);
            fits("what is proposed at 390, dark");
            window(1280, 800, false);
            assertThat(tender.json("gateway", "list"))
                    .as("nothing is created yet")
                    .isEmpty();
            click(button("Create all this"));
            text("10 files were imported");

            click(link("try them and hand them out"));
            click(link("gia-laptop-pier2"));
            click(button("Run trial"));
            text("connects");
            String proven = tender.client("profile", "show", "gia-laptop-pier2");
            assertThat(proven).contains("proof      proven");
            browser.navigate().back();
            inputs++;
            click(button("Hand out"));
            click(button("Prepare link and passphrase"));
            click(patiently().until(ExpectedConditions.elementToBeClickable(By.cssSelector("input[type=checkbox]"))));
            click(button("Done"));
            patiently().until(d -> tender.query("select count(*) from handout").equals("1"));
        }
        System.out.println("measured: from sign-in to the first proven handout in " + inputs + " inputs and clicks");
        assertThat(inputs).isLessThanOrEqualTo(MOST);
        assertThat(Files.exists(given.resolve("gia.conf"))).isTrue();
    }
}
