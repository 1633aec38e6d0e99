package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.support.ui.ExpectedConditions;
import org.openqa.selenium.support.ui.Select;
import tender.core.language.StaffTexts;
import tender.standins.office.SmallOffice;

/** The console in headless Chromium: the story by hand, an accessibility scan of every page, the staff's page on a phone. */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class ConsoleTest extends InChromium {
    @TempDir
    static Path folder;

    private static SmallOffice office;

    @BeforeAll
    static void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.78.1");
        tender = new Tender(folder, office);
        tender.addRouter(office, "mara", "phone");
        tender.client("profile", "issue", "mara", "phone", "--gateway", "pier2");
        tender.client("trial", "run", "mara-phone-pier2");
        tender.client("handout", "prepare", "mara-phone-pier2");
        signIn(tender, folder);
    }

    @AfterAll
    static void close() throws Exception {
        browser.quit();
        tender.close();
        office.close();
    }

    private static String pagePath(String page) throws Exception {
        return switch (page) {
            case "gateway" ->
                "/gateways/"
                        + tender.json("gateway", "show", "pier2").path("id").asText();
            case "profile" ->
                "/profiles/"
                        + tender.json("profile", "show", "mara-phone-pier2")
                                .path("id")
                                .asText();
            case "trial" ->
                "/proof/" + tender.json("trial", "list").get(0).path("id").asText();
            case "listener" ->
                "/proof/listeners/"
                        + tender.json("monitor", "list").get(0).path("id").asText();
            case "files" ->
                "/gateways/" + tender.json("gateway", "list").get(0).path("id").asText() + "/files";
            case "person" -> "/people/mara";
            case "overview" -> "/";
            default -> "/" + page;
        };
    }

    @ParameterizedTest
    @CsvSource({
        "overview",
        "gateways",
        "gateways/findings",
        "gateways/sheet",
        "gateways/route",
        "gateways/explain",
        "gateways/import",
        "gateways/file-requests",
        "gateway",
        "people",
        "person",
        "profiles",
        "profiles/inspect",
        "profiles/expiries",
        "profiles/authorities",
        "files",
        "profile",
        "handouts",
        "handouts/devices",
        "proof",
        "trial",
        "listener",
        "connections",
        "backups",
        "journal",
        "administration",
        "administration/descriptions",
        "administration/jobs",
        "gateways/changes"
    })
    void everyPagePassesAScanLightAndDarkWideAndNarrowAndFits(String page) throws Exception {
        String path = pagePath(page);
        browser.executeScript("performance.clearResourceTimings()");
        readsWell(path);
        assertThat((List<?>) browser.executeScript(CALLED_TOO_OFTEN))
                .as("calls of " + page + " that are made more than twice a second")
                .isEmpty();
        assertThat((List<?>) browser.executeScript(CALLS))
                .as("calls that " + page + " makes")
                .hasSizeLessThanOrEqualTo(MOST_CALLS);
        assertThat((Long) browser.executeScript(BYTES)).as("bytes of " + page).isLessThanOrEqualTo(MOST_BYTES);
    }

    private static final int MOST_CALLS = 8;
    private static final long MOST_BYTES = 300_000;
    private static final String CALLS = """
            return [...new Set(performance.getEntriesByType('resource').map((e) => e.name)
              .filter((n) => n.includes('/api/') && !n.endsWith('/events')))];
            """;
    /** What the page's own files and the first answer of each call weigh on the wire. */
    private static final String BYTES = """
            const first = {};
            performance.getEntriesByType('resource').forEach((e) => (first[e.name] ??= e.encodedBodySize));
            return Object.values(first).reduce((a, b) => a + b, 0);
            """;

    /** Each call of the page with how often it was made, where that is more than twice a second and once more. */
    private static final String CALLED_TOO_OFTEN = """
            const calls = {};
            performance.getEntriesByType('resource').filter((e) => e.name.includes('/api/'))
              .forEach((e) => (calls[e.name] ??= []).push(e.startTime));
            return Object.entries(calls)
              .filter(([, at]) => at.length > 3 + 2 * (at.at(-1) - at[0]) / 1000)
              .map(([name, at]) => name + ' ' + at.length);
            """;

    /** First: it looks at a person's page while little else is there. */
    @Test
    @Order(1)
    void anAdministratorIssuesHandsOutAndProvesWithoutLeavingTheConsole() throws Exception {
        tender.client("person", "add", "ilse", "--name", "Ilse Brandvold");
        go("/people/ilse");
        field("Name").sendKeys("laptop");
        patiently().until(d -> "laptop".equals(field("Name").getDomProperty("value")));
        button("Add device").click();
        button("Preview").click();
        text("nobody is cut off");
        button("Issue").click();
        WebElement link = patiently().until(ExpectedConditions.elementToBeClickable(By.linkText("ilse-laptop-pier2")));
        patiently()
                .until(d ->
                        d.findElements(By.xpath("//td[contains(., 'ready')]")).size() == 1);
        link.click();

        button("Run trial").click();
        text("ilse-laptop-pier2 at pier2");
        patiently()
                .until(d ->
                        d.findElements(By.xpath("//li[contains(@class, 'ok')]")).size() == 6);

        browser.navigate().back();
        button("Hand out").click();
        button("Prepare link and passphrase").click();
        text("Both are shown only once");
        WebElement done = browser.findElement(By.xpath("//button[normalize-space()='Done']"));
        assertThat(done.isEnabled()).as("not before both are kept").isFalse();
        browser.findElement(By.cssSelector("input[type=checkbox]")).click();
        button("Done").click();
        patiently()
                .until(d ->
                        d.findElements(By.xpath("//dd[contains(., 'sent')]")).size() == 1);
    }

    @Test
    void whatHappensElsewhereAppearsWithoutReloading() throws Exception {
        go("/people");
        tender.client("person", "add", "sudden", "--name", "Sudden Arrival");

        text("Sudden Arrival");
    }

    @Test
    void aChangeOfASettingShowsWhoseFilesItTouchesBeforeItsButton() throws Exception {
        go(pagePath("gateway"));
        patiently()
                .until(ExpectedConditions.elementToBeClickable(By.cssSelector("details summary")))
                .click();
        button("change port").click();
        WebElement port = field("New value of port");
        port.clear();
        port.sendKeys("51999");
        button("Preview").click();

        text("needs a new handout");
        text("port " + office.tunnelPort() + " becomes 51999");
        button("Cancel").click();
        assertThat(tender.json("change", "list", "pier2").toString())
                .as("nothing was changed by looking")
                .doesNotContain("51999");
    }

    @Test
    void aRouteWalkIsReadAsAPath() throws Exception {
        go("/gateways/route");
        field("Inside host").sendKeys(SmallOffice.INSIDE_HOST);
        button("Walk").click();

        text("Every hop lets it through");
        field("Network at that place").clear();
        field("Network at that place").sendKeys("10.20.4.0/24");
        button("Walk").click();
        text("It stops at: overlap");
    }

    @Test
    void theKeyboardAloneFindsAndOpensAThing() throws Exception {
        go("/");
        browser.findElement(By.tagName("body")).sendKeys("/");
        WebElement search = browser.switchTo().activeElement();
        assertThat(search.getAttribute("role")).isEqualTo("combobox");
        search.sendKeys("pier2");
        patiently()
                .until(ExpectedConditions.visibilityOfElementLocated(By.cssSelector("#hits li[aria-selected='true']")));
        search.sendKeys(Keys.ENTER);

        text("Listeners");
        assertThat(browser.getCurrentUrl()).contains("/gateways/");
    }

    @Test
    void allListenersStandOnOnePageAndOneIsTriedFromThereOn() throws Exception {
        go("/proof");
        text("Monitors");
        button("Monitor it every 15 min").click();
        text("Tender creates a canary profile for this listener");
        button("Start").click();
        text("1 ok, 0 failing, 0 waiting, 0 not monitored");
        patiently()
                .until(ExpectedConditions.elementToBeClickable(By.linkText("pier2 wg0")))
                .click();
        text("its newest trial");
        patiently().until(d -> d.findElement(By.cssSelector(".chart canvas")));
        assertThat(browser.findElement(By.cssSelector(".chart[role=img]")).getAttribute("aria-label"))
                .contains("0 not proven");
        assertThat(scan()).isEmpty();
        button("Stop monitoring").click();
        text("not monitored");
    }

    @Test
    void anAuthorityIsMadeAndACertificateOfItsIsRevokedOnlyWhenAskedTwice() throws Exception {
        go("/profiles/authorities");
        text("There is no certificate authority yet.");
        button("Create an authority").click();
        field("Name").sendKeys("harbour");
        button("Create").click();
        text("It has signed no certificate yet.");
        tender.client(
                "authority",
                "sign",
                "harbour",
                "--client",
                "old-tablet",
                "--out",
                folder.resolve("t").toString(),
                "--request",
                Shell.ROOT
                        .resolve("core/src/test/resources/corpus/pem/mara.csr")
                        .toString());

        text("old-tablet");
        button("Revoke").click();
        text("This cannot be undone");
        assertThat(scan()).isEmpty();
        button("Cancel").click();
        button("Revoke").click();
        button("Revoke now").click();

        text("number 2, 1 on it");
        text("revoked");
    }

    @Test
    void whatATeamGetsIsSetInThePageOfProfiles() throws Exception {
        tender.client("person", "add", "signe", "--name", "Signe Askeland", "--team", "accounts");
        go("/profiles");
        text("Every team gets the same as everyone.");
        button("Add").click();
        text("accounts");
        field("Networks").sendKeys("10.20.1.0/24");
        field("Valid for (days)").sendKeys("90");
        button("Save").click();

        text("10.20.1.0/24, for 90 days");
        assertThat(scan()).isEmpty();
        assertThat(tender.client("grant", "list")).contains("accounts", "10.20.1.0/24, for 90 days");
        button("Remove").click();
        text("Every team gets the same as everyone.");
    }

    @Test
    void aDroppedFileIsLookedIntoAndALockedOneAsksForItsPassphrase() throws Exception {
        go("/profiles/inspect");
        Path corpus = Shell.ROOT.resolve("core/src/test/resources/corpus");
        browser.findElement(By.cssSelector("input[type=file]"))
                .sendKeys(corpus.resolve("openvpn/runs-program.ovpn") + "\n" + corpus.resolve("p12/modern.p12"));
        text("The file runs a program on the device.");
        text("up /tmp/up.sh --now");

        browser.findElement(By.cssSelector("input[type=password]")).sendKeys("harbour");
        button("Inspect").click();

        text("Mara Quillfeather, a person's");
        text("dangerous: the file runs a program on the device (runs-program.ovpn, line 12)");
        assertThat(scan()).isEmpty();
    }

    @Test
    void whatTakesSecretsOutAsksForThePasswordAgainAndUnfitFilesForAReason() throws Exception {
        tender.client("person", "add", "joss", "--name", "Joss Tarrant");
        tender.client("device", "add", "joss", "laptop", "--kind", "laptop");
        tender.client("profile", "issue", "joss", "laptop", "--gateway", "pier2");
        String id =
                tender.json("profile", "show", "joss-laptop-pier2").path("id").asText();
        tender.query("update sign_in set fresh_until = now() - interval '1 hour' where kind = 'browser'");
        go("/profiles/" + id);
        button("Hand out").click();
        button("Prepare link and passphrase").click();
        text("Confirm your password");
        assertThat(scan()).isEmpty();
        field("Password of owner").sendKeys("not-the-password");
        button("Continue").click();
        text("name, password or code is wrong");
        field("Password of owner").clear();
        field("Password of owner").sendKeys(tender.password());
        button("Continue").click();
        text("Both are shown only once.");

        tender.client("gateway", "set", "pier2", "--endpoint", "moved.skerrivane.example");
        go("/profiles/" + id);
        button("Hand out").click();
        text("Not fit to be handed out.");
        assertThat(scan()).isEmpty();
        tender.client("gateway", "set", "pier2", "--endpoint", SmallOffice.NAME);
        go("/journal");
        text("handout prepared: joss-laptop-pier2");
    }

    /** Longer words than English has: nothing is clipped or pushed out, whatever the width. */
    @Test
    void theStaffsPageFitsInGerman() throws Exception {
        StaffTexts german = StaffTexts.of("de");
        tender.client("person", "add", "gesine", "--name", "Gesine Harmsworth");
        tender.client("device", "add", "gesine", "phone", "--kind", "phone");
        tender.client("profile", "issue", "gesine", "phone", "--gateway", "pier2");
        JsonNode prepared = tender.json("handout", "prepare", "gesine-phone-pier2");
        browser.executeCdpCommand("Network.enable", Map.of());
        browser.executeCdpCommand(
                "Network.setExtraHTTPHeaders", Map.of("headers", Map.of("Accept-Language", "de-DE,de;q=0.9")));
        try {
            for (int width : new int[] {1920, 1280, 390}) {
                window(width, 844, width == 1280);
                browser.get("about:blank");
                browser.get(prepared.path("link").asText());
                text(german.get("page.heading"));
                fits("asked for the passphrase at " + width);
            }
            field(german.get("page.passphrase"))
                    .sendKeys(prepared.path("passphrase").asText());
            button(german.get("page.get")).click();
            text(german.get("page.steps"));
            text("Gesine Harmsworth: phone zu pier2");
            for (int width : new int[] {390, 1280, 1920}) {
                window(width, 844, width == 1280);
                fits("the file at " + width);
            }
        } finally {
            browser.executeCdpCommand("Network.setExtraHTTPHeaders", Map.of("headers", Map.of()));
            window(1280, 800, false);
        }
    }

    @Test
    void theStaffsPageHandsOverTheFileOnAPhone() throws Exception {
        tender.client("person", "add", "ebba", "--name", "Ebba Storhaug");
        tender.client("device", "add", "ebba", "phone", "--kind", "phone");
        tender.client("profile", "issue", "ebba", "phone", "--gateway", "pier2");
        JsonNode prepared = tender.json("handout", "prepare", "ebba-phone-pier2");
        for (boolean dark : new boolean[] {true, false}) {
            window(390, 844, dark);
            browser.get("about:blank");
            browser.get(prepared.path("link").asText());
            text("Your connection to the office");
            assertThat(scan()).isEmpty();
        }
        field("Passphrase").sendKeys("wrong-wrong-wrong-wrong");
        button("Get the file").click();
        text("Link and passphrase do not match");
        field("Passphrase").clear();
        field("Passphrase").sendKeys(prepared.path("passphrase").asText().toUpperCase());
        button("Get the file").click();

        text("Ebba Storhaug: phone to pier2");
        assertThat(browser.findElement(By.cssSelector("img[alt*='QR code']")).getDomProperty("naturalWidth"))
                .isNotEqualTo("0");
        assertThat(browser.getCurrentUrl())
                .as("the token leaves the address bar")
                .doesNotContain("#");
        assertThat(scan()).isEmpty();
        window(1280, 800, false);
    }

    @Test
    @Order(2)
    void choicesStayInTheAddressAndSeveralProfilesAreTriedTogether() throws Exception {
        tender.client("device", "add", "mara", "slate", "--kind", "tablet");
        go("/profiles");
        new Select(field("Show")).selectByVisibleText("Ready");
        patiently().until(d -> d.getCurrentUrl().endsWith("/profiles?show=state%3Dready"));
        browser.navigate().refresh();
        patiently().until(d -> "state=ready".equals(field("Show").getDomProperty("value")));

        WebElement table = patiently()
                .until(ExpectedConditions.visibilityOfElementLocated(By.cssSelector("[aria-label=profiles]")));
        List<String> labels = table.findElements(By.cssSelector("tbody td:nth-child(2) a")).stream()
                .map(WebElement::getText)
                .toList();
        assertThat(labels).hasSizeGreaterThan(1);
        table.sendKeys(Keys.ARROW_DOWN);
        assertThat(browser.switchTo().activeElement().getText()).isEqualTo(labels.get(0));
        browser.switchTo().activeElement().sendKeys(Keys.ARROW_DOWN);
        assertThat(browser.switchTo().activeElement().getText()).isEqualTo(labels.get(1));
        browser.switchTo().activeElement().sendKeys(Keys.END);
        assertThat(browser.switchTo().activeElement().getText()).isEqualTo(labels.get(labels.size() - 1));

        int before = tender.json("trial", "list").size();
        browser.findElement(By.cssSelector("[aria-label='Choose all profiles shown']"))
                .click();
        text(labels.size() + " chosen");
        button("Run " + labels.size() + " trials").click();
        text(labels.size() + " being tried.");
        assertThat(tender.json("trial", "list").size()).isEqualTo(before + labels.size());

        button("Issue profiles").click();
        new Select(field("For")).selectByVisibleText("Everyone");
        button("Preview").click();
        text("issued in one change of the gateway");
        button("Issue 1").click();
        patiently().until(ExpectedConditions.presenceOfElementLocated(By.linkText("mara-slate-pier2")));
    }
}
