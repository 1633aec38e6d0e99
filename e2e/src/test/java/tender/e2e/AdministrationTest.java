package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.openqa.selenium.By;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.support.ui.ExpectedConditions;
import org.openqa.selenium.support.ui.Select;
import tender.standins.office.SmallOffice;

/** What could be done with the client alone is done in the console: operators, names, changes, descriptions, lists of people. */
class AdministrationTest extends InChromium {
    @TempDir
    static Path folder;

    private static SmallOffice office;

    @BeforeAll
    static void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.103.1");
        Tender started = new Tender(folder, office);
        started.addRouter(office, "mara", "phone");
        signIn(started, folder);
    }

    @AfterAll
    static void close() throws Exception {
        browser.quit();
        tender.close();
        office.close();
    }

    private static void choose(String label, String option) {
        new Select(field(label)).selectByVisibleText(option);
    }

    private static void write(String label, String text) {
        WebElement field = field(label);
        field.clear();
        field.sendKeys(text);
    }

    private static void press(String accessibleName) {
        patiently()
                .until(ExpectedConditions.elementToBeClickable(
                        By.xpath("//button[@aria-label=\"" + accessibleName + "\"]")))
                .click();
    }

    @Test
    void anOperatorIsAddedChangedAndRemoved() throws Exception {
        go("/administration");
        button("Add an operator").click();
        write("Name", "edda");
        write("First password", "a-first-password-of-edda");
        button("Add").click();
        text("first password");
        press("Change edda");
        choose("Role", "auditor: sees everything but secrets");
        button("Set role").click();
        text("edda is auditor now");
        assertThat(tender.json("operator", "list").toString()).contains("auditor");
        readsWell("/administration");
        go("/administration");
        press("Change edda");
        button("Remove this operator").click();
        text("the journal keeps what edda did");
        button("Remove it").click();
        patiently()
                .until(d -> d.findElements(By.xpath("//td[normalize-space()='edda']"))
                        .isEmpty());
        assertThat(tender.json("operator", "list").toString()).doesNotContain("edda");
    }

    @Test
    void severalChangesArePreviewedAndMadeTogether() throws Exception {
        go("/gateways/changes");
        choose("What to change", "Allow a port in the firewall");
        write("Port", "51999");
        button("Add to the list").click();
        choose("What to change", "Set the time zone");
        write("Time zone", "Europe/Oslo");
        button("Add to the list").click();
        button("Preview").click();
        text("set the time zone to Europe/Oslo");
        assertThat(tender.json("change", "list", "pier2").toString()).doesNotContain("51999");
        button("Apply").click();
        text("kept");
        assertThat(tender.json("change", "list", "pier2").toString()).contains("51999");
    }

    @Test
    void sitesDevicesTeamsAndGatewaysAreRenamed() throws Exception {
        tender.client("person", "add", "bram", "--name", "Bram Hollier", "--team", "engineers");
        tender.client("device", "add", "bram", "laptop", "--kind", "laptop");
        go("/people/bram");
        press("Change laptop");
        field("Name").clear();
        field("Name").sendKeys("bridge-laptop");
        browser.findElement(By.xpath("(//button[normalize-space()='Save'])[1]")).click();
        text("bridge-laptop");

        go("/people");
        press("Rename engineers");
        write("New name of engineers", "engine-room");
        browser.findElement(By.xpath("//form//button[normalize-space()='Rename']"))
                .click();
        patiently()
                .until(d -> !d.findElements(By.xpath("//td[normalize-space()='engine-room']"))
                        .isEmpty());

        go("/gateways");
        button("Change").click();
        write("Title", "Pier two, west");
        button("Save").click();
        text("Pier two, west");

        String barge = "barge";
        tender.client("gateway", "add", barge, "--site", "pier-two", "--connector", "file");
        String id = tender.json("gateway", "show", barge).path("id").asText();
        go("/gateways/" + id);
        button("Change").click();
        write("Name", "old-barge");
        button("Save").click();
        patiently().until(ExpectedConditions.textToBePresentInElementLocated(By.tagName("h1"), "old-barge"));
        readsWell("/gateways/" + id);
    }

    @Test
    void aGatewayManagedByHandIsEnteredAskedForFilesAndItsInstructionTried() throws Exception {
        tender.client("gateway", "add", "pier8", "--connector", "manual", "--endpoint", "127.10.103.9");
        String id = tender.json("gateway", "show", "pier8").path("id").asText();
        go("/gateways/" + id);
        button("Enter a listener's settings").click();
        write("Listener", "wireguard");
        write("Port", "51820");
        write("Public key", "nz3Wd5nNF/NIcvfD8gNN2Nc3IOXvpb4z5sHvG7TkyhE=");
        write("Tunnel network", "10.99.8.0/24");
        button("Enter").click();
        text("wireguard, wireguard");
        assertThat(tender.client("gateway", "facts", "pier8"))
                .containsPattern("tunnel-network +10.99.8.0/24 +\\(entered, ");

        button("Request files").click();
        write("Whose", "mara/phone");
        button("Request").click();
        text("create the user mara");
        readsWell("/gateways/" + id);
        go("/gateways/" + id);
        press("Cancel the request for mara, phone");
        text("None is requested");

        tender.client("profile", "issue", "mara", "phone", "--gateway", "pier8");
        String profile =
                tender.json("profile", "show", "mara-phone-pier8").path("id").asText();
        go("/profiles/" + profile);
        press("It is done, try it: mara-phone-pier8");
        Shell.until(
                "the trial to be told",
                Duration.ofSeconds(60),
                () -> browser.findElement(By.tagName("main")).getText().contains("not let in yet"));
        readsWell("/profiles/" + profile);
        aChangeIsMadeByHand(id);
    }

    /** From the form that changes settings to the instruction that is shown, sent nowhere, and said to be done. */
    private void aChangeIsMadeByHand(String id) throws Exception {
        go("/gateways/changes?gateway=pier8");
        text("Tender does not write pier8");
        choose("What to change", "Set the time zone");
        write("Time zone", "Europe/Oslo");
        button("Add to the list").click();
        write("Why", "its log is an hour off");
        button("Preview").click();
        text("To be done by hand:");
        button("Apply").click();
        text("What to enter stands on the gateway's page");

        go("/gateways/" + id);
        text("to be changed at pier8: set the time zone to Europe/Oslo");
        press("Show what to do for: set the time zone to Europe/Oslo");
        text("its log is an hour off");
        readsWell("/gateways/" + id);
        go("/gateways/" + id);
        press("It is done, try it: set the time zone to Europe/Oslo");
        Shell.until(
                "the change to be known",
                Duration.ofSeconds(30),
                () -> tender.client("change", "list", "pier8").contains("no trial shows it"));
        assertThat(tender.client("gateway", "facts", "pier8")).contains("Europe/Oslo");
    }

    @Test
    void aProvisioningFileIsMadeAndTheDeviceThatJoinsIsShown() throws Exception {
        tender.client("person", "add", "ebba", "--name", "Ebba Storhaug");
        tender.client("device", "add", "ebba", "laptop", "--kind", "laptop");
        go("/handouts/devices");
        text("No provisioning file was made yet.");
        button("Make a provisioning file").click();
        choose("For", "Ebba Storhaug");
        patiently()
                .until(d -> !d.findElements(By.xpath("//option[normalize-space()='laptop']"))
                        .isEmpty());
        choose("Device", "laptop");
        patiently()
                .until(d -> !d.findElements(By.xpath("//option[normalize-space()='pier2 wg0']"))
                        .isEmpty());
        choose("Gateway", "pier2 wg0");
        button("Make the file").click();
        String signer = patiently()
                .until(ExpectedConditions.visibilityOfElementLocated(By.xpath("//code[starts-with(., 'SHA256:')]")))
                .getText();
        browser.findElement(By.xpath("//label[contains(., 'I have saved or sent the file')]/input"))
                .click();
        button("Done").click();
        text("ebba/laptop");

        Path mine = folder.resolve("ebba");
        assertThat(tender.client("provision", "create", "ebba/laptop", "--gateway", "pier2", "--out", mine.toString()))
                .contains(signer);
        assertThat(Shell.run(
                                Map.of("TENDER_CONFIG", mine.toString()),
                                Duration.ofSeconds(60),
                                List.of(
                                        Shell.ROOT.resolve("bin/tender").toString(),
                                        "device",
                                        "join",
                                        mine.resolve("ebba-laptop.tender").toString(),
                                        "--signer",
                                        signer,
                                        "--folder",
                                        mine.resolve("profiles").toString(),
                                        "--resolver",
                                        "127.0.0.1:" + office.names().port()))
                        .out())
                .contains("connects");
        text("current, connects");
        press("Withdraw the file for ebba/laptop");
        text("withdrawn");
        press("End ebba/laptop");
        text("ended");
        readsWell("/handouts/devices");
    }

    @Test
    void peopleAreTypedOrPasted() throws Exception {
        go("/people");
        choose("From", "typing them here");
        for (int row = 1; row <= 4; row++) {
            cell("Name, row " + row).sendKeys("Typed Person " + row);
            cell("Mail, row " + row).sendKeys("typed" + row + "@skerrivane.example");
        }
        button("Check").click();
        text("If you import it: 4 people and 4 devices added");
        button("Import").click();
        text("Imported: 4 people and 4 devices added");
        assertThat(tender.client("person", "show", "typed4")).contains("Typed Person 4");

        choose("From", "a spreadsheet, pasted");
        WebElement cells = field("Cells copied from a spreadsheet");
        browser.executeScript(
                "arguments[0].value = arguments[1]; arguments[0].dispatchEvent(new Event('input'))",
                cells,
                "Full name\tE-mail\nTyped Person 1\ttyped1@skerrivane.example\nPasted One\t\n");
        button("Check").click();
        text("If you import it: 1 person and 0 devices added, 0 changed, 1 unchanged");
    }

    private static WebElement cell(String label) {
        return browser.findElement(By.cssSelector("[aria-label='" + label + "']"));
    }

    @Test
    void peopleComeFromAFileAndADescriptionIsApproved() throws Exception {
        Path csv = Files.writeString(folder.resolve("people.csv"), """
                handle,name,mail,team,device,kind,system
                freya,Freya Dunmore,,accounts,phone,phone,
                freya,Freya Dunmore,,accounts,laptop,laptop,
                """);
        go("/people");
        field("CSV file, or a directory's export (LDIF)").sendKeys(csv.toString());
        text("If you import it: 1 person and 2 devices added, 0 changed, 0 unchanged");
        button("Import").click();
        text("Imported: 1 person and 2 devices added");
        patiently().until(ExpectedConditions.elementToBeClickable(By.linkText("Freya Dunmore")));

        go("/administration/descriptions");
        button("plain-router").click();
        button("Copy to a new one").click();
        WebElement text = field("Description");
        String own = text.getDomProperty("value").replaceFirst("description: plain-router", "description: pier-router");
        browser.executeScript(
                "arguments[0].value = arguments[1]; arguments[0].dispatchEvent(new Event('input'))", text, own);
        button("Save").click();
        text("it takes effect when an owner approves it");
        button("Approve").click();
        text("pier-router is approved");
        assertThat(tender.json("description", "list").toString()).contains("pier-router");
    }

    @Test
    void aLogIsExplainedAndTheEndOfTheJournalIsCompared() throws Exception {
        go("/gateways/explain");
        field("Log").sendKeys("2026-12-01 10:00:00 AUTH: Received control message: AUTH_FAILED\n");
        button("Explain the log").click();
        text("line 1:");
        text("AUTH_FAILED");
        field("Log").clear();
        field("Log").sendKeys("all is well\n");
        button("Explain the log").click();
        text("No line of it says what went wrong");

        go("/journal");
        button("Check the chain").click();
        String end = text("Its end, to keep elsewhere")
                .findElement(By.cssSelector("span"))
                .getText();
        assertThat(end).matches("[0-9]+:[0-9a-f]{64}");
        field("End of the chain that you kept").sendKeys(end);
        button("Check the chain").click();
        text("What you kept is in it.");
        field("End of the chain that you kept").clear();
        field("End of the chain that you kept").sendKeys(end.replaceAll(":.*", ":" + "0".repeat(64)));
        button("Check the chain").click();
        text("What you kept is not in it");
        readsWell("/journal");
    }

    @Test
    void allGatewaysAreReadAndOpenLinksEndedTogether() throws Exception {
        tender.client("profile", "issue", "mara", "phone", "--gateway", "pier2");
        tender.client("handout", "prepare", "mara-phone-pier2");
        tender.client("handout", "prepare", "mara-phone-pier2");
        go("/handouts");
        patiently()
                .until(ExpectedConditions.elementToBeClickable(
                        By.cssSelector("input[aria-label='Choose all handouts shown']")))
                .click();
        button("End 2 open links").click();
        patiently()
                .until(d -> d.findElements(By.xpath("//td[contains(., 'withdrawn')]"))
                                .size()
                        == 2);
        assertThat(tender.json("handout", "list").findValuesAsText("state")).containsOnly("withdrawn");

        go("/gateways");
        button("Read all again").click();
        text("is backed up and read");
    }
}
