package tender.core.sheet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import tender.core.language.StaffTexts;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Protocol;
import tender.core.wire.MalformedException;

class SettingsSheetTest {
    private static Connection connection(Protocol protocol, boolean byCertificate) {
        return new Connection(
                "Mara <Quillfeather>: phone to orrin-fw",
                protocol,
                Optional.of(new Endpoint(Host.parse("orrin.skerrivane.example"), new Port(500), Transport.UDP)),
                Optional.of("orrin.skerrivane.example"),
                "mara-phone-orrin-fw",
                byCertificate,
                protocol == Protocol.L2TP_IPSEC,
                Optional.of(new Connection.Authority("Skerrivane Ferries", "ab".repeat(32))),
                "mara-orrin-r1.p12",
                List.of(Cidr.parse("10.20.0.0/24")),
                List.of(IpAddress.parse("10.20.0.53")),
                Optional.of(Instant.parse("2027-11-23T00:00:00Z")));
    }

    private static List<String> labels(SettingsSheet sheet) {
        return sheet.prompts().stream().map(Prompt::label).toList();
    }

    @ParameterizedTest
    @EnumSource(
            value = Platform.class,
            names = {"WINDOWS", "APPLE", "ANDROID"})
    void theCertificateIsOpenedBeforeTheConnectionThatNeedsItIsTyped(Platform platform) {
        SettingsSheet sheet = SettingsSheet.of(connection(Protocol.IKEV2, true), platform, StaffTexts.ENGLISH);

        assertThat(labels(sheet))
                .containsSubsequence(
                        "certificate",
                        "password of the certificate file",
                        "kind of VPN",
                        "server address",
                        "remote ID (server identity)",
                        "local ID (your identity)",
                        "authentication")
                .doesNotContain("user name", "password");
        assertThat(sheet.warnings()).isEmpty();
        assertThat(sheet.facts()).anyMatch(f -> f.contains("23 November 2027"));
    }

    @Test
    void aLinuxMachineTakesFilesAndNoPrompts() {
        SettingsSheet sheet = SettingsSheet.of(connection(Protocol.IKEV2, true), Platform.LINUX, StaffTexts.ENGLISH);

        assertThat(labels(sheet))
                .containsExactly(
                        "/etc/swanctl/conf.d",
                        "/etc/swanctl/x509",
                        "/etc/swanctl/private",
                        "/etc/swanctl/x509ca",
                        "load");
    }

    @Test
    void everySecretPromptSaysWhichOneItWantsAndWeakKindsSayThatTheyAre() {
        SettingsSheet sheet =
                SettingsSheet.of(connection(Protocol.L2TP_IPSEC, false), Platform.WINDOWS, StaffTexts.ENGLISH);

        assertThat(sheet.prompts().stream().filter(p -> p.kind() == Prompt.Kind.SECRET))
                .extracting(Prompt::value)
                .containsExactly("the password of your account mara-phone-orrin-fw", "the office's shared secret");
        assertThat(sheet.warnings()).hasSize(1);
        assertThat(SettingsSheet.of(connection(Protocol.PPTP, false), Platform.WINDOWS, StaffTexts.ENGLISH)
                        .warnings())
                .singleElement()
                .asString()
                .contains("broken");
    }

    @Test
    void whatHasNoPromptsOfItsOwnIsRefusedAndSoIsASheetThatLeadsNowhere() {
        assertThatThrownBy(() -> SettingsSheet.of(connection(Protocol.TLS, false), Platform.LINUX, StaffTexts.ENGLISH))
                .isInstanceOf(MalformedException.class);
        Connection c = connection(Protocol.PPTP, false);
        Connection nowhere = new Connection(
                c.title(),
                c.protocol(),
                Optional.empty(),
                c.serverId(),
                c.identity(),
                false,
                false,
                c.authority(),
                c.file(),
                c.reach(),
                c.dns(),
                c.ends());
        assertThatThrownBy(() -> SettingsSheet.of(nowhere, Platform.WINDOWS, StaffTexts.ENGLISH))
                .isInstanceOf(MalformedException.class);
    }

    @Test
    void textKeepsToItsWidthAndHtmlEscapesWhatPeopleWrote() {
        SettingsSheet sheet = SettingsSheet.of(connection(Protocol.IKEV2, true), Platform.APPLE, StaffTexts.ENGLISH);

        assertThat(SheetText.of(sheet).lines())
                .filteredOn(l -> !l.contains("abab"))
                .allMatch(l -> l.length() <= 78);
        assertThat(SheetHtml.of(sheet))
                .contains("Mara &lt;Quillfeather&gt;", "<code>orrin.skerrivane.example</code>")
                .doesNotContain("<Quill", "<script");
    }

    /** Every text of a sheet is asked for, in every language, with what it has filled in. */
    @Test
    void everyKindOfSheetIsWrittenInEveryLanguage() {
        for (String language : StaffTexts.languages()) {
            for (Platform platform : Platform.values()) {
                for (Protocol protocol : List.of(
                        Protocol.IKEV2, Protocol.L2TP_IPSEC, Protocol.PPTP, Protocol.OPENVPN, Protocol.WIREGUARD)) {
                    for (boolean byCertificate : List.of(true, false)) {
                        SettingsSheet sheet = SettingsSheet.of(
                                connection(protocol, byCertificate), platform, StaffTexts.of(language));
                        assertThat(SheetText.of(sheet)).doesNotContain("{", "}");
                        assertThat(SheetHtml.of(sheet)).contains("<html lang=\"" + language + "\">");
                    }
                }
            }
        }
    }

    @Test
    void aGermanReadsItInGerman() {
        SettingsSheet sheet =
                SettingsSheet.of(connection(Protocol.L2TP_IPSEC, false), Platform.APPLE, StaffTexts.of("de"));

        assertThat(labels(sheet)).contains("Serveradresse", "Benutzername", "Passwort");
        assertThat(SheetText.of(sheet))
                .contains("Für iPhone, iPad oder Mac", "23. November 2027", "(eingeben)", "(Geheimnis)")
                .doesNotContain("the ", "your ");
        assertThat(SheetHtml.of(sheet)).contains("<strong>Schwach.</strong>");
    }

    @ParameterizedTest
    @CsvSource({
        "Windows 11,laptop,WINDOWS",
        "iOS 17,phone,APPLE",
        "macOS 14,laptop,APPLE",
        "Android 14,phone,ANDROID",
        "Debian 12,laptop,LINUX",
        "'',phone,APPLE",
        "'',laptop,WINDOWS"
    })
    void aDevicesSystemTellsItsPlatform(String system, String kind, Platform platform) {
        assertThat(Platform.of(system, kind)).isEqualTo(platform);
    }
}
