package tender.client;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import tender.api.HandoutApi;
import tender.api.OfficeApi;
import tender.api.PersonApi;
import tender.api.ProfileApi;
import tender.api.TrialApi;
import tender.api.WatchApi;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Json;
import tender.client.trial.FileTrial;
import tender.client.trial.TextTrial;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.openvpn.ClientSession;
import tender.core.openvpn.ClientSettings;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.StaticKey;
import tender.core.trial.MeasurementOptions;
import tender.io.names.NameService;

/** Loads what the usual commands load, while the build writes the class-data archive. */
@Command(name = "class-data", hidden = true)
final class ClassData extends ClientCommand {
    private static final byte[] EMPTY_PAGE = "{\"items\":[],\"next\":null}".getBytes(StandardCharsets.UTF_8);
    private static final byte[] NOTHING = "{}".getBytes(StandardCharsets.UTF_8);

    @Override
    protected int run() {
        for (Class<?> item : List.of(
                ProfileApi.Profile.class,
                WatchApi.Session.class,
                WatchApi.Backup.class,
                OfficeApi.Gateway.class,
                PersonApi.Person.class)) {
            Json.page(EMPTY_PAGE, item);
        }
        for (Class<?> one : List.of(TrialApi.Trial.class, WatchApi.Overview.class, HandoutApi.Prepared.class)) {
            Json.read(NOTHING, one);
        }
        terminal.print(Main.line("profile").getUsageMessage());
        terminal.json(Json.page(EMPTY_PAGE, WatchApi.Job.class));
        terminal.table(List.of("A", "B"), List.of(List.of("1", "2")), "");
        try {
            new Calls("http://127.0.0.1:1", Optional.of("none")).post("/none", TrialApi.Start.of("none"), null);
        } catch (CallFailure e) {
            terminal.say(e.getMessage());
        }
        trial();
        return 0;
    }

    /** A file looked into, a trial of it that finds nobody, and a handshake up to the client's hello. */
    private void trial() {
        try {
            CertificateKey key = CertificateKey.generate(CertificateKey.Kind.EC_P256, new SecureRandom());
            Instant now = Instant.now();
            byte[] certificate = Authority.make("none", key, now, now.plusSeconds(60), new SecureRandom())
                    .certificate();
            String text = "client\ndev tun\nremote 127.0.0.1 1\n" + block("ca", "CERTIFICATE", certificate)
                    + block("cert", "CERTIFICATE", certificate)
                    + block("key", "PRIVATE KEY", key.privateKey().reveal(RevealSecret.TO_WRITE_FILE))
                    + "<tls-crypt>\n" + StaticKey.generate(new SecureRandom()) + "</tls-crypt>\n";
            Path file = Files.createTempFile("none", ".ovpn");
            Files.writeString(file, text);
            Main.line("profile").execute("profile", "inspect", file.toString());
            NameService names = name -> new NameService.Answer(NameService.Status.UNKNOWN, List.of());
            terminal.say(new TextTrial(
                            FileTrial.whole(file),
                            Optional.empty(),
                            names,
                            ClientSettings.Added.NOTHING,
                            MeasurementOptions.NOTHING)
                    .run()
                    .toString());
            Files.delete(file);
            hello(OpenVpnClient.read(text.replaceAll("(?s)<tls-crypt>.*</tls-crypt>\n", "")), now);
        } catch (IOException e) {
            terminal.say(e.getMessage());
        }
    }

    private static String block(String name, String label, byte[] der) {
        return "<" + name + ">\n" + PemText.write(label, der) + "</" + name + ">\n";
    }

    private static void hello(OpenVpnClient file, Instant now) {
        ClientSession session = new ClientSession(
                ClientSettings.of(file, file.calls().get(0), ClientSettings.Added.NOTHING), new SecureRandom());
        byte[] reset = session.toSend(now).get(0);
        byte[] answer = new byte[26];
        answer[0] = 8 << 3;
        answer[9] = 1;
        System.arraycopy(reset, 1, answer, 14, 8);
        session.onPacket(answer, now);
        session.toSend(now);
    }
}
