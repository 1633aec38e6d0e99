package tender.core.trial;

import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import tender.core.certificate.CertificateFacts;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.IpAddress;
import tender.core.openvpn.ClientSettings;
import tender.core.profile.OpenVpnClient;
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
        boolean full4,
        boolean bridges,
        List<Cidr> reach,
        Optional<IpAddress> insideHost,
        Optional<String> serverName,
        Instant now) {
    public OpenVpnQuestion {
        reach = List.copyOf(reach);
    }

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
        boolean prefix = file.checksName()
                .filter(d -> d.word(1).filter("name-prefix"::equals).isPresent())
                .isPresent();
        return new OpenVpnQuestion(
                ClientSettings.of(file, call, added),
                new ServerTrust.Checks(file.checksRole(), name, prefix, fingerprints(file)),
                endpoint,
                Proxy.of(file),
                file.full4(),
                bridges(file),
                file.reach(),
                insideHost,
                serverName,
                now);
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
                .map(s -> new OpenVpnQuestion(
                        s, checks, endpoint, proxy, full4, bridges, reach, insideHost, serverName, now));
    }

    /** Whether what the file says, or the server pushed, sends this address through the tunnel. */
    public boolean reaches(IpAddress address, List<Cidr> pushedRoutes) {
        return full4 && address.isV4()
                || reach.stream().anyMatch(n -> n.contains(address))
                || pushedRoutes.stream().anyMatch(n -> n.contains(address));
    }

    Optional<CertificateFacts> own() {
        return settings.identity().map(i -> CertificateFacts.of(i.chain().get(0)));
    }

    /** Whether the client's own certificate is signed by one of the authorities in the file. */
    boolean ownIsTheAuthoritys() {
        return settings.identity()
                .map(i -> ServerTrust.isSignedBy(i.chain(), settings.authorities()))
                .orElse(true);
    }

    /** What is called, in words. */
    public String place() {
        return door() + " at " + endpoint.host();
    }

    /** Where packets are sent first: the proxy's place, or the server's. */
    public Endpoint firstHop() {
        return proxy.map(Proxy::at).orElse(endpoint);
    }

    String door() {
        return settings.call().transport().name().toLowerCase(Locale.ROOT) + " " + endpoint.port();
    }
}
