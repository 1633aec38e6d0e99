package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.File;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.openqa.selenium.By;
import org.openqa.selenium.TimeoutException;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.chrome.ChromeDriverService;
import org.openqa.selenium.chrome.ChromeOptions;
import org.openqa.selenium.support.ui.ExpectedConditions;
import org.openqa.selenium.support.ui.WebDriverWait;

/** What tests of the console in headless Chromium have in common: the browser, and finding things as people do, by their names. */
abstract class InChromium {
    static Tender tender;
    static ChromeDriver browser;
    private static String axe;

    /** Opens a browser at the console of a service and signs in as its owner. */
    static void signIn(Tender at, Path folder) throws Exception {
        tender = at;
        axe = Files.readString(Shell.ROOT.resolve("console/node_modules/axe-core/axe.min.js"));
        ChromeOptions options = new ChromeOptions();
        options.setBinary("/usr/bin/chromium");
        options.addArguments(
                "--headless=new",
                "--no-sandbox",
                "--disable-gpu",
                "--disable-quic",
                "--no-first-run",
                "--disable-background-networking",
                "--disable-component-update",
                "--disable-sync",
                "--disable-dev-shm-usage",
                "--user-data-dir=" + folder.resolve("browser"));
        browser = new ChromeDriver(
                new ChromeDriverService.Builder()
                        .usingDriverExecutable(new File("/usr/bin/chromedriver"))
                        .usingAnyFreePort()
                        .build(),
                options);
        window(1280, 800, false);
        browser.get(tender.address());
        field("Name").sendKeys("owner");
        field("Password").sendKeys(tender.password());
        button("Sign in").click();
        text("Needs attention");
    }

    static void window(int width, int height, boolean dark) {
        browser.executeCdpCommand(
                "Emulation.setDeviceMetricsOverride",
                Map.of("width", width, "height", height, "deviceScaleFactor", 1, "mobile", false));
        browser.executeCdpCommand(
                "Emulation.setEmulatedMedia",
                Map.of("features", List.of(Map.of("name", "prefers-color-scheme", "value", dark ? "dark" : "light"))));
    }

    static WebDriverWait patiently() {
        return new WebDriverWait(browser, Duration.ofSeconds(20));
    }

    static WebElement text(String text) {
        return patiently()
                .until(ExpectedConditions.visibilityOfElementLocated(
                        By.xpath("//*[text()[contains(normalize-space(.), \"" + text + "\")]]")));
    }

    static WebElement field(String label) {
        WebElement found = patiently()
                .until(ExpectedConditions.presenceOfElementLocated(
                        By.xpath("//label[normalize-space()=\"" + label + "\"]")));
        return browser.findElement(By.id(found.getAttribute("for")));
    }

    static WebElement button(String name) {
        try {
            return patiently()
                    .until(ExpectedConditions.elementToBeClickable(
                            By.xpath("//button[normalize-space()=\"" + name + "\"]")));
        } catch (TimeoutException e) {
            throw new AssertionError(
                    "no button " + name + " on: "
                            + browser.findElement(By.tagName("body")).getText(),
                    e);
        }
    }

    static void go(String path) throws Exception {
        browser.get(tender.address() + path);
        patiently().until(ExpectedConditions.presenceOfElementLocated(By.cssSelector("main h1, main h2")));
        patiently().until(ExpectedConditions.presenceOfElementLocated(By.cssSelector("nav li")));
    }

    /** Serious and critical findings of an axe scan, as text. */
    static String scan() {
        browser.executeScript(axe);
        browser.manage().timeouts().scriptTimeout(Duration.ofSeconds(30));
        Object found = browser.executeAsyncScript(
                "const done = arguments[0];"
                        + "axe.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa'] }).then(r => done(r.violations"
                        + ".filter(v => v.impact === 'serious' || v.impact === 'critical')"
                        + ".map(v => v.id + ': ' + v.nodes.map(n => n.html + ' ' + n.failureSummary).join(' | ')).join('\\n')));");
        return String.valueOf(found);
    }

    /** Texts that are wider than the element that cuts them. */
    static final String CLIPPED = """
            return [...document.querySelectorAll('body *')].filter((e) => e.scrollWidth > e.clientWidth + 1 && e.clientWidth > 0
                && ['hidden', 'clip'].includes(getComputedStyle(e).overflowX) && !e.classList.contains('visually-hidden'))
              .map((e) => e.outerHTML.slice(0, 120));
            """;

    /** Reads well in light and dark, at three widths, with nothing clipped and nothing to scroll sideways. */
    static void readsWell(String path) throws Exception {
        for (int width : new int[] {1920, 1280, 390}) {
            window(width, 800, false);
            go(path);
            fits(path + " at " + width);
            window(width, 800, true);
            assertThat(scan()).as(path + " at " + width + " dark").isEmpty();
        }
        window(1280, 800, false);
    }

    /** The page as it is drawn now. */
    static void fits(String what) {
        assertThat(scan()).as(what).isEmpty();
        assertThat((Long) browser.executeScript("return document.documentElement.scrollWidth - window.innerWidth"))
                .as(what)
                .isLessThanOrEqualTo(0);
        assertThat((List<?>) browser.executeScript(CLIPPED))
                .as(what + " is clipped")
                .isEmpty();
    }
}
