package tender.client.authority;

import java.nio.file.Path;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.CertificateApi;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.core.credential.Secret;

@Command(
        name = "sign",
        mixinStandardHelpOptions = true,
        description =
                "Sign a certificate. If Tender creates the key, it is written once, in a key store with a passphrase.",
        footer = {
            "",
            "  tender authority sign skerrivane --server orrin.skerrivane.example --name 192.0.2.10 --out orrin",
            "  tender authority sign skerrivane --client \"Mara Quillfeather\" --days 90 --out mara",
            "  tender authority sign skerrivane --client bram-laptop --request bram.csr --out bram"
        })
final class AuthoritySignCommand extends ClientCommand {
    @Parameters(paramLabel = "AUTHORITY")
    String authority;

    @Option(names = "--server", paramLabel = "NAME", description = "For a server of this name.")
    Optional<String> server;

    @Option(names = "--client", paramLabel = "NAME", description = "For a person or device of this name.")
    Optional<String> client;

    @Option(names = "--name", description = "Another DNS name or address of the server; may be repeated.")
    List<String> names = List.of();

    @Option(names = "--days", description = "How long it is valid, in days. Default: 365")
    Optional<Integer> days;

    @Option(names = "--key-kind", description = "ec-p256, rsa-2048, rsa-3072, rsa-4096 or ed25519. Default: ec-p256")
    Optional<String> key;

    @Option(names = "--request", paramLabel = "FILE", description = "A request in PEM; its device keeps the key.")
    Optional<Path> request;

    @Option(names = "--legacy", description = "Use the key store encryption that systems from before about 2019 need.")
    boolean legacy;

    @Option(
            names = "--passphrase-fd",
            paramLabel = "N",
            description = "Read the key store's passphrase from this file descriptor.")
    Optional<Integer> passphraseFd;

    @Option(
            names = "--out",
            required = true,
            paramLabel = "STEM",
            description = "Writes STEM.pem and, with a key, STEM.p12.")
    Path out;

    @Override
    protected int run() {
        if (server.isPresent() == client.isPresent()) {
            throw CallFailure.of(ProblemCode.MALFORMED, "say either --server NAME or --client NAME");
        }
        Calls calls = calls();
        List<String> all = new java.util.ArrayList<>(server.stream().toList());
        all.addAll(names);
        Optional<Secret> passphrase = request.isPresent()
                ? Optional.empty()
                : Optional.of(terminal.secret("passphrase for the key store, 8 characters or more", passphraseFd));
        CertificateApi.Signed signed = calls.post(
                "/authorities/" + AuthorityCommands.find(calls, authority).id() + "/certificates",
                new CertificateApi.Sign(
                        server.isPresent() ? "server" : "client",
                        server.orElseGet(client::get),
                        Optional.of(all),
                        days,
                        key,
                        request.map(AuthorityCommands::text),
                        passphrase,
                        Optional.of(legacy)),
                CertificateApi.Signed.class);
        AuthorityCommands.write(
                Path.of(out + ".pem"), signed.pem().getBytes(java.nio.charset.StandardCharsets.US_ASCII));
        signed.keyStore()
                .ifPresent(s -> AuthorityCommands.write(
                        Path.of(out + ".p12"), Base64.getDecoder().decode(s)));
        if (terminal.json) {
            terminal.json(signed.certificate());
        } else {
            terminal.print(signed.certificate().serial() + "  "
                    + signed.certificate().commonName() + ", until "
                    + signed.certificate().expiresAt());
            terminal.say("written to " + out + ".pem"
                    + (signed.keyStore().isPresent() ? " and " + out + ".p12; the key is given this once" : ""));
        }
        return 0;
    }
}
