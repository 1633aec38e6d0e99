package tender.core.trial;

import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;
import tender.core.certificate.CertificateFacts;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.IpAddress;
import tender.core.openvpn.ClientSettings;
import tender.core.openvpn.Pushed;
import tender.core.openvpn.TunnelRoutes;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.OpenVpnFile;
import tender.core.wire.MalformedException;

/**
 * What a trial of an OpenVPN profile asks: the very contents of the file, and the inside host that should answer.
 *
 * @param proxy what the file goes through
 * @param bridges whether the file's tunnel carries frames of Ethernet (dev tap) and not packets
 * @param serverName what the listener's certificate should say, where the office's records tell it
 */
public record OpenVpnQuestion(
        ClientSettings settings,
        ServerTrust.Checks checks,
        Endpoint endpoint,
        Optional<Proxy> proxy,
        OpenVpnFile file,
        boolean bridges,
        Optional<IpAddress> insideHost,
        Optional<String> serverName,
        Instant now) {
    private static final int MOST_PLACES = 8;

    /** Of the places that the file calls, the first; see {@link #all}. */
    public static OpenVpnQuestion of(
            String text,
            ClientSettings.Added added,
            Optional<IpAddress> insideHost,
            Optional<String> serverName,
            Instant now) {
        return all(text, added, insideHost, serverName, now).get(0);
    }

    /** One for each place that the file calls, in its order; refuses a file that a client could not use either. */
    public static List<OpenVpnQuestion> all(
            String text,
            ClientSettings.Added added,
            Optional<IpAddress> insideHost,
            Optional<String> serverName,
            Instant now) {
        OpenVpnClient file = OpenVpnClient.read(text);
        if (file.calls().isEmpty()) {
            throw new MalformedException("profile", "remote", "the file calls nobody");
        }
        List<OpenVpnClient.Call> callable = file.calls().stream()
                .filter(c -> c.endpoint().filter(e -> !e.isPlaceholder()).isPresent())
                .toList();
        return (callable.isEmpty() ? file.calls() : callable)
                .stream()
                        .limit(MOST_PLACES)
                        .map(call -> of(file, call, added, insideHost, serverName, now))
                        .toList();
    }

    private static OpenVpnQuestion of(
            OpenVpnClient file,
            OpenVpnClient.Call call,
            ClientSettings.Added added,
            Optional<IpAddress> insideHost,
            Optional<String> serverName,
            Instant now) {
        Endpoint endpoint = call.endpoint()
                .filter(e -> !e.isPlaceholder())
                .orElseThrow(() -> new MalformedException(
                        "profile", "line " + call.line(), call.host() + " is no name or address that can be called"));
        Optional<String> name = file.checksName().flatMap(d -> d.word(0));
        ServerTrust.NameForm form = file.checksName().map(OpenVpnQuestion::form).orElse(ServerTrust.NameForm.NAME);
        return new OpenVpnQuestion(
                ClientSettings.of(file, call, added),
                new ServerTrust.Checks(file.checksRole(), name, form, fingerprints(file)),
                endpoint,
                Proxy.of(file),
                file.file(),
                bridges(file),
                insideHost,
                serverName,
                now);
    }

    /** The whole subject, where the line names no form (OpenVPN's manual: verify-x509-name). */
    private static ServerTrust.NameForm form(OpenVpnFile.Directive d) {
        return switch (d.word(1).orElse("subject")) {
            case "name" -> ServerTrust.NameForm.NAME;
            case "name-prefix" -> ServerTrust.NameForm.PREFIX;
            default -> ServerTrust.NameForm.SUBJECT;
        };
    }

    private static boolean bridges(OpenVpnClient file) {
        return file.file()
                .last("dev-type")
                .or(() -> file.file().last("dev"))
                .flatMap(d -> d.word(0))
                .filter(w -> w.startsWith("tap"))
                .isPresent();
    }

    /** SHA-256 of certificates that are believed by themselves, without an authority. */
    private static List<String> fingerprints(OpenVpnClient file) {
        return file.file().all("peer-fingerprint").stream()
                .flatMap(d -> d.block().map(b -> Arrays.stream(b.split("\\s+"))).orElseGet(() -> d.words().stream()))
                .map(f -> f.replace(":", "").toLowerCase(Locale.ROOT))
                .filter(f -> f.matches("[0-9a-f]{64}"))
                .toList();
    }

    /** The same, answering what the server asked; empty where it asked nothing that can be answered. */
    public Optional<OpenVpnQuestion> answering(String refusal) {
        return settings.answering(refusal)
                .map(s -> new OpenVpnQuestion(s, checks, endpoint, proxy, file, bridges, insideHost, serverName, now));
    }

    /** Whether the file, and what it takes of the server's options, sends packets for an address into the tunnel. */
    public boolean reaches(IpAddress address, Pushed taken) {
        return TunnelRoutes.of(file, taken).leadIn(address);
    }

    /** The networks that are sent into the tunnel so. */
    public List<Cidr> reach(Pushed taken) {
        return TunnelRoutes.of(file, taken).networks();
    }

    /** The name server inside, of IPv4: the file's own before the server's. */
    public Optional<IpAddress> nameServer(Pushed taken) {
        Pushed own = new Pushed(file.all("dhcp-option").stream()
                .map(d -> "dhcp-option " + String.join(" ", d.words()))
                .toList());
        return Stream.of(own, taken)
                .flatMap(p -> p.dns().stream())
                .filter(a -> reaches(a, taken))
                .findFirst();
    }

    Optional<CertificateFacts> own() {
        return settings.identity().map(i -> CertificateFacts.of(i.chain().get(0)));
    }

    /** Whether the client's key is its certificate's. */
    boolean ownKeyFits() {
        return settings.identity()
                .map(i -> CertificateFacts.of(i.chain().get(0))
                        .key()
                        .digest()
                        .equals(i.key().digest()))
                .orElse(true);
    }

    /** Whether the client's own certificate is signed by one of the authorities in the file. */
    boolean ownIsTheAuthoritys() {
        return settings.identity()
                .map(i -> ServerTrust.isSignedBy(i.chain(), settings.authorities()))
                .orElse(true);
    }

    /** What is called, in words. */
    public String place() {
        return port() + " at " + endpoint.host();
    }

    /** Where packets are sent first: the proxy's place, or the server's. */
    public Endpoint firstHop() {
        return proxy.map(Proxy::at).orElse(endpoint);
    }

    String port() {
        return settings.call().transport().name().toLowerCase(Locale.ROOT) + " " + endpoint.port();
    }
}
