package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.net.InetAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.List;
import java.util.zip.ZipFile;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.standins.exported.ExportedFiles;
import tender.standins.listener.Ikev1Responder;
import tender.standins.office.SmallOffice;

/** Gateways that nobody but a person can change: entered from their files, changed by instructions, and proven by real servers. */
class ManualGatewayTest {
    private static final String ADDRESS = "127.10.104.1";
    private static final int PORT = 11942;

    @TempDir
    Path folder;

    private SmallOffice office;
    private Tender tender;

    @BeforeAll
    static void canRun() {
        Namespace.needWireGuard();
    }

    @BeforeEach
    void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.105.1");
        tender = new Tender(folder, office);
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        office.close();
    }

    @Test
    void aPersonAddsAPeerAndRemovesItAndTrialsShowBoth() throws Exception {
        int port = RealWireGuard.freePort(ADDRESS);
        ExportedFiles exported =
                new ExportedFiles(Instant.now(), ExportedFiles.places(2, new ExportedFiles.Place(ADDRESS, port)));
        try (RealWireGuard server = new RealWireGuard(folder, 9, port, exported)) {
            addedAndRemoved(server, exported, ADDRESS + ":" + port);
        }
    }

    private void addedAndRemoved(RealWireGuard server, ExportedFiles exported, String endpoint) throws Exception {
        Path given = Files.write(folder.resolve("gia.conf"), exported.files().get("gia.conf"));

        String shown = tender.client("import", given.toString(), "--name", "gateway-1=pier2", "--yes");
        assertThat(shown).contains("gateway pier2 (new)", "new people: gia (laptop)", "1 of 1 client files imported");
        tender.client("person", "add", "bo", "--name", "Bo Lind");
        tender.client("device", "add", "bo", "phone", "--kind", "phone");
        String issued = tender.client("profile", "issue", "bo", "phone", "--gateway", "pier2");
        assertThat(issued).contains("by hand");
        Shell.Result early = tender.tryClient("instruction", "done", "bo-phone-pier2");
        assertThat(early.out()).contains("stays open", "not let in yet");
        assertThat(early.code()).isEqualTo(1);

        String text = tender.client("instruction", "show", "bo-phone-pier2");
        String peer = text.substring(text.indexOf("[Peer]"));
        server.add(Files.writeString(folder.resolve("peer.conf"), peer));
        assertThat(tender.client("instruction", "done", "bo-phone-pier2")).contains("a trial shows that it is done");
        assertThat(tender.query("select state from profile where label = 'bo-phone-pier2'"))
                .isEqualTo("ready");
        assertThat(Files.readString(tender.collect("bo-phone-pier2"))).contains(endpoint);

        tender.client("profile", "withdraw", "bo-phone-pier2", "--yes");
        Shell.Result still = tender.tryClient("instruction", "done", "bo-phone-pier2");
        assertThat(still.out()).contains("stays open", "still let in");
        assertThat(tender.client("overview")).contains("remove the peer", "still let in");
        String key = peer.lines()
                .filter(l -> l.startsWith("PublicKey"))
                .findFirst()
                .orElseThrow()
                .replaceAll(".*= ", "");
        server.remove(key);
        assertThat(tender.client("instruction", "done", "bo-phone-pier2")).contains("a trial shows that it is done");
        assertThat(tender.query("select count(*) from profile where state = 'withdrawn'"))
                .isEqualTo("1");
        assertThat(tender.client("journal", "list", "--json")).contains("while gia-laptop-pier2 was let in");
    }

    @Test
    void whoLeavesIsShownToBeRefusedByARealServerAndStaysOpenUntilThen() throws Exception {
        int port = RealWireGuard.freePort(ADDRESS);
        ExportedFiles exported =
                new ExportedFiles(Instant.now(), ExportedFiles.places(2, new ExportedFiles.Place(ADDRESS, port)));
        try (RealWireGuard server = new RealWireGuard(folder, 9, port, exported)) {
            Path given =
                    Files.write(folder.resolve("gia.conf"), exported.files().get("gia.conf"));
            tender.client("import", given.toString(), "--name", "gateway-1=pier2", "--yes");
            tender.client("person", "add", "bo", "--name", "Bo Lind");
            tender.client("device", "add", "bo", "phone", "--kind", "phone");
            tender.client("profile", "issue", "bo", "phone", "--gateway", "pier2");
            String text = tender.client("instruction", "show", "bo-phone-pier2");
            String peer = text.substring(text.indexOf("[Peer]"));
            server.add(Files.writeString(folder.resolve("peer.conf"), peer));
            tender.client("instruction", "done", "bo-phone-pier2");

            assertThat(tender.client("person", "leave", "bo", "--dry-run"))
                    .contains("by hand: remove the peer", "nothing was done");
            assertThat(tender.client("person", "leave", "bo", "--yes", "--no-wait"))
                    .contains("not yet");
            Shell.Result still = tender.tryClient("departure", "check", "bo");
            assertThat(still.out()).contains("not yet", "still let in");
            assertThat(still.code()).isEqualTo(1);

            server.remove(peer.lines()
                    .filter(l -> l.startsWith("PublicKey"))
                    .findFirst()
                    .orElseThrow()
                    .replaceAll(".*= ", ""));
            assertThat(tender.client("departure", "check", "bo"))
                    .containsPattern("refused +while gia-laptop-pier2 was let in");
            assertThat(tender.client("departure", "list")).contains("bo, left");
        }
    }

    @Test
    void silenceAloneShowsNothing() throws Exception {
        int port = RealWireGuard.freePort(ADDRESS);
        ExportedFiles exported =
                new ExportedFiles(Instant.now(), ExportedFiles.places(2, new ExportedFiles.Place(ADDRESS, port)));
        Path given = Files.createDirectories(folder.resolve("given"));
        for (String file : List.of("gia.conf", "hal-phone.conf")) {
            Files.write(given.resolve(file), exported.files().get(file));
        }
        tender.client("import", given.toString(), "--name", "gateway-1=pier2", "--yes");
        tender.client("profile", "withdraw", "hal-phone-pier2", "--yes");

        Shell.Result nobody = tender.tryClient("instruction", "done", "hal-phone-pier2");

        assertThat(nobody.out()).contains("stays open", "gia-laptop-pier2 was not either");
        assertThat(nobody.code()).isEqualTo(1);
    }

    @Test
    void aForwardAndAPortSetByHandAreShownByTrialsAndNotBySayingSo() throws Exception {
        int port = RealWireGuard.freePort(ADDRESS);
        ExportedFiles exported =
                new ExportedFiles(Instant.now(), ExportedFiles.places(2, new ExportedFiles.Place(ADDRESS, port)));
        Path given = Files.write(folder.resolve("gia.conf"), exported.files().get("gia.conf"));
        tender.client("import", given.toString(), "--name", "gateway-1=pier2", "--yes");

        String asked = tender.client(
                "change",
                "apply",
                "pier2",
                "--forward",
                "udp:" + port + "=10.2.0.9:" + port,
                "--why",
                "no answer",
                "--yes");
        assertThat(asked).contains("to be done by hand");
        String forward = asked.replaceAll("(?s).*tender instruction show ([0-9a-f]{8}).*", "$1");
        assertThat(tender.client("instruction", "show", forward))
                .contains("outside port: " + port, "inside address: 10.2.0.9", "why         no answer");
        Shell.Result silent = tender.tryClient("instruction", "done", forward);
        assertThat(silent.out()).contains("stays open", "gia-laptop-pier2 is not let in");
        assertThat(silent.code()).isEqualTo(1);
        assertThat(tender.client("instruction", "list")).contains(forward, "is not let in");

        try (RealWireGuard server = new RealWireGuard(folder, 9, port, exported)) {
            assertThat(tender.client("instruction", "done", forward))
                    .contains("shown by trials: gia-laptop-pier2 is let in");
            otherPortOutside(port);
            movedPort(port);
        }
    }

    /** A file that gets in by another port shows nothing of a forward. */
    private void otherPortOutside(int port) {
        String asked = tender.client(
                "change", "apply", "pier2", "--forward", "udp:" + (port + 7) + "=10.2.0.9:" + port, "--yes");
        String other = asked.replaceAll("(?s).*tender instruction show ([0-9a-f]{8}).*", "$1");
        assertThat(tender.tryClient("instruction", "done", other).out())
                .contains("stays open", "no file is made for wireguard");
        tender.client("instruction", "cancel", other);
    }

    /** The file that is there is made for the port of before: it can show nothing of the new one. */
    private void movedPort(int port) throws Exception {
        String asked = tender.client(
                "change", "apply", "pier2", "--listener", "wireguard", "--set", "port=" + (port + 1), "--yes");
        String moved = asked.replaceAll("(?s).*tender instruction show ([0-9a-f]{8}).*", "$1");
        Shell.Result unproven = tender.tryClient("instruction", "done", moved);
        assertThat(unproven.out())
                .contains("stays open", "as it should be now", "tender profile renew gia-laptop-pier2");
        assertThat(tender.client("gateway", "facts", "pier2")).contains(Integer.toString(port + 1));

        tender.client("instruction", "cancel", moved);
        assertThat(tender.client("gateway", "facts", "pier2"))
                .as("what was known before")
                .doesNotContain(Integer.toString(port + 1));
    }

    @Test
    void aRealOpenVpnServerLetsInWhatWasImported() throws Exception {
        assumeTrue(Shell.has("openvpn"), "no openvpn here");
        importedAndTried(Namespace.make("tdr-n" + ProcessHandle.current().pid() % 1000, 11));
    }

    private void importedAndTried(Namespace server) throws Exception {
        String address = server.inside();
        ExportedFiles exported =
                new ExportedFiles(Instant.now(), ExportedFiles.places(0, new ExportedFiles.Place(address, PORT)));
        ExportedFiles.OpenVpnEnd end = exported.openVpn("orrin");
        try (RealOpenVpn running = new RealOpenVpn(
                folder,
                server,
                PORT,
                end,
                "proto udp\nserver 10.98.1.0 255.255.255.0\n" + ExportedFiles.block("tls-crypt", end.tlsCrypt()))) {
            Path given = Files.createDirectories(folder.resolve("given"));
            for (String file : List.of("ana-torres-laptop.ovpn", "cleo.zip")) {
                Files.write(given.resolve(file), exported.files().get(file));
            }

            tender.client("import", given.toString(), "--name", "gateway-1=orrin", "--yes");

            for (String label : List.of("ana-torres-laptop-orrin", "cleo-laptop-orrin")) {
                Shell.until(
                        "the server to let " + label + " in",
                        Duration.ofSeconds(20),
                        () -> tender.tryClient("trial", "run", label).out().contains("connects"));
                assertThat(Files.readString(tender.collect(label))).contains("remote " + address + " " + PORT);
            }
            lockedKeyStore(exported);
        }
    }

    /** A key store is opened with its passphrase once; only where that is kept, trials get in and the person is told it. */
    private void lockedKeyStore(ExportedFiles exported) throws Exception {
        Path locked =
                locked(new String(exported.files().get("client-2.ovpn"), StandardCharsets.ISO_8859_1), "hal-tablet");
        String asked = tender.tryClient("import", locked.toString(), "--yes").out();
        assertThat(asked).contains("its key store is locked");

        tender.client(
                "import",
                locked.toString(),
                "--yes",
                "--assign",
                "hal-tablet.ovpn=hal/tablet",
                "--passphrase-fd",
                "3<harbour",
                "--keep-passphrase");
        Shell.until(
                "the server to let the key of the store in",
                Duration.ofSeconds(20),
                () -> tender.tryClient("trial", "run", "hal-tablet-orrin").out().contains("connects"));
        assertThat(tender.query(
                        "select count(*) from credential where secret is not null and purpose like 'imported%'"))
                .isEqualTo("1");
    }

    private Path locked(String file, String name) throws Exception {
        Path cert = Files.writeString(folder.resolve("own.crt"), inside(file, "cert"));
        Path key = Files.writeString(folder.resolve("own.key"), inside(file, "key"));
        Path store = folder.resolve("own.p12");
        Shell.need(
                "openssl",
                "pkcs12",
                "-export",
                "-in",
                cert.toString(),
                "-inkey",
                key.toString(),
                "-passout",
                "pass:harbour",
                "-out",
                store.toString());
        String text = file.replace(ExportedFiles.block("cert", inside(file, "cert")), "")
                        .replace(ExportedFiles.block("key", inside(file, "key")), "")
                + ExportedFiles.block("pkcs12", Base64.getMimeEncoder().encodeToString(Files.readAllBytes(store)));
        return Files.writeString(folder.resolve(name + ".ovpn"), text);
    }

    private static String inside(String file, String block) {
        return file.replaceAll("(?s).*<" + block + ">\\n(.*?)</" + block + ">.*", "$1");
    }

    @Test
    void anAccountAloneIsLetInByARealServerAndRefusedWhenItIsClosedThere() throws Exception {
        assumeTrue(Shell.has("openvpn"), "no openvpn here");
        accountAlone(Namespace.make("tdr-a" + ProcessHandle.current().pid() % 1000, 16));
    }

    private void accountAlone(Namespace server) throws Exception {
        ExportedFiles exported = new ExportedFiles(
                Instant.now(), ExportedFiles.places(1, new ExportedFiles.Place(server.inside(), PORT)));
        ExportedFiles.OpenVpnEnd end = exported.openVpn("slip");
        Path accounts = Files.writeString(folder.resolve("accounts"), "dag secret-of-dag\neli secret-of-eli\n");
        Path check = Files.writeString(
                folder.resolve("check"), "#!/bin/sh\ngrep -qx \"$(sed -n 1p $1) $(sed -n 2p $1)\" " + accounts + "\n");
        assertThat(check.toFile().setExecutable(true, false)).isTrue();
        try (RealOpenVpn running = new RealOpenVpn(
                folder,
                server,
                PORT,
                end,
                "proto tcp-server\nserver 10.98.3.0 255.255.255.0\nverify-client-cert none\nusername-as-common-name\nscript-security 2\nauth-user-pass-verify "
                        + check + " via-file\n")) {
            Path given = Files.write(
                    folder.resolve("nas-export.zip"), exported.files().get("nas-export.zip"));
            tender.client("import", given.toString(), "--name", "gateway-1=slip", "--yes");

            withoutItsPassword(new String(inZip(given, "eli/office.ovpn"), StandardCharsets.ISO_8859_1));
            for (String label : List.of("dag-laptop-slip", "eli-laptop-slip")) {
                Shell.until(
                        "the server to let " + label + " in",
                        Duration.ofSeconds(20),
                        () -> tender.tryClient("trial", "run", label).out().contains("connects"));
            }
            tender.client("profile", "withdraw", "eli-laptop-slip", "--yes");
            assertThat(tender.tryClient("instruction", "done", "eli-laptop-slip")
                            .out())
                    .contains("stays open", "still let in");
            Files.writeString(accounts, "dag secret-of-dag\n");
            assertThat(tender.client("instruction", "done", "eli-laptop-slip"))
                    .contains("a trial shows that it is done");
        }
    }

    /** A server refuses whoever comes without the password: that shows nothing of an account that is still open. */
    private void withoutItsPassword(String file) throws Exception {
        Path bare = Files.writeString(
                folder.resolve("hal.ovpn"),
                file.replaceAll("(?s)<auth-user-pass>.*</auth-user-pass>", "auth-user-pass"));
        tender.client("import", bare.toString(), "--assign", "hal.ovpn=hal/laptop", "--yes");
        tender.client("person", "leave", "hal", "--yes", "--no-wait");
        assertThat(tender.tryClient("departure", "check", "hal").out())
                .contains("not yet", "never reached Tender")
                .doesNotContain("was let in");
        assertThat(tender.client("instruction", "done", "hal-laptop-slip"))
                .contains("it counts as said; no trial can show it");
        assertThat(tender.client("departure", "check", "hal")).contains("not triable");
    }

    private static byte[] inZip(Path zip, String name) throws Exception {
        try (ZipFile file = new ZipFile(zip.toFile())) {
            return file.getInputStream(file.getEntry(name)).readAllBytes();
        }
    }

    @Test
    void anL2tpListenerIsEnteredByHandProbedAndItsAccountMadeByHand() throws Exception {
        tender.client("gateway", "add", "quay", "--connector", "manual", "--endpoint", ADDRESS);
        tender.client(
                "gateway",
                "listener",
                "quay",
                "clients",
                "--set",
                "protocol=l2tp-ipsec",
                "--set",
                "port=500",
                "--set",
                "transport=udp");
        assertThat(tender.tryClient("trial", "run", "--gateway", "quay", "--listener", "clients")
                        .out())
                .contains("does not answer");
        try (Ikev1Responder running = Ikev1Responder.start(InetAddress.getByName(ADDRESS), 500, 4500)) {
            Shell.until(
                    "the listener to answer",
                    Duration.ofSeconds(20),
                    () -> tender.tryClient("trial", "run", "--gateway", "quay", "--listener", "clients")
                                    .code()
                            == 0);
        }

        tender.client("person", "add", "bo", "--name", "Bo Lind");
        tender.client("device", "add", "bo", "phone", "--kind", "phone");
        assertThat(tender.client("profile", "issue", "bo", "phone", "--gateway", "quay", "--make-account"))
                .contains("waiting", "create the account bo-phone-quay");
        String password =
                tender.client("instruction", "show", "bo-phone-quay").replaceAll("(?s).*to copy:\\s+(\\S+)\\s*", "$1");
        assertThat(password).hasSizeGreaterThan(10);
        assertThat(tender.client("instruction", "done", "bo-phone-quay")).contains("it counts as said");
        assertThat(tender.client("profile", "show", "bo-phone-quay")).contains("state      ready");

        tender.client("profile", "withdraw", "bo-phone-quay", "--yes");
        assertThat(tender.client("instruction", "list")).contains("close the account bo-phone-quay");
        tender.client("instruction", "done", "bo-phone-quay");
        assertThat(tender.query("select count(*) from credential where secret is not null"))
                .isEqualTo("0");
    }

    @Test
    void aTlsListenerIsEnteredByHandProbedAndItsCertificateIsKnownFromTheTrial() throws Exception {
        ExportedFiles exported = new ExportedFiles(Instant.now(), ExportedFiles.PLACES);
        ExportedFiles.OpenVpnEnd end = exported.openVpn("orrin");
        Files.writeString(folder.resolve("cert.pem"), end.certificate());
        Files.writeString(folder.resolve("key.pem"), end.key());
        int port = RealWireGuard.freePort(ADDRESS);
        Process server = new ProcessBuilder(
                        "openssl",
                        "s_server",
                        "-accept",
                        ADDRESS + ":" + port,
                        "-cert",
                        folder.resolve("cert.pem").toString(),
                        "-key",
                        folder.resolve("key.pem").toString(),
                        "-quiet")
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("s_server.log").toFile())
                .start();
        try {
            tender.client("gateway", "add", "orrin", "--connector", "manual", "--endpoint", ADDRESS);
            tender.client("gateway", "listener", "orrin", "portal", "--set", "protocol=tls", "--set", "port=" + port);
            Shell.until(
                    "the listener to answer",
                    Duration.ofSeconds(20),
                    () -> tender.tryClient("trial", "run", "--gateway", "orrin", "--listener", "portal")
                            .out()
                            .contains("orrin.skerrivane.example"));
        } finally {
            server.destroy();
        }
        assertThat(tender.client("gateway", "facts", "orrin"))
                .containsPattern("port +" + port + " +\\(entered, ")
                .containsPattern("server-names +orrin.skerrivane.example +\\(a trial, ")
                .containsPattern("tls-minimum +1\\.[0-3] +\\(a trial, ")
                .containsPattern("endpoint-address +" + ADDRESS + " +\\(a trial, ")
                .containsPattern("certificate-expires +20.*\\(a trial, ");
    }
}
