package tender.api;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.credential.Secret;

/** Sites, gateways and listeners. */
public final class OfficeApi {
    public record AddSite(
            String name,
            Optional<String> title,
            Optional<String> domain,
            Optional<String> timeZone,
            Optional<Map<String, String>> networks) {}

    public record Site(
            String id,
            String name,
            String title,
            String domain,
            String timeZone,
            Map<String, String> networks,
            int version) {}

    /** {@code key} is a private SSH key in OpenSSH's or PEM form. */
    public record AddGateway(
            String name,
            String site,
            Optional<String> kind,
            String address,
            Optional<Integer> port,
            String user,
            Secret key,
            Optional<String> insideHost,
            Optional<String> endpoint) {}

    public record Gateway(
            String id,
            String name,
            String site,
            String kind,
            String make,
            String model,
            String release,
            String connector,
            List<String> capabilities,
            String address,
            int port,
            String user,
            String identity,
            boolean identityAccepted,
            Optional<String> insideHost,
            Optional<String> endpointHost,
            Optional<Instant> readAt,
            Optional<String> readProblem,
            Optional<NewestBackup> newestBackup,
            List<Listener> listeners,
            Instant createdAt,
            int version) {}

    public record NewestBackup(String id, int number, Instant takenAt) {}

    public record Listener(
            String id,
            String name,
            String protocol,
            String transport,
            int port,
            String publicKey,
            List<String> tunnels,
            Optional<String> insideAddress,
            Optional<String> endpoint,
            boolean inForce,
            int peers) {}

    /** {@code identity} repeats the fingerprint that was compared on the device. */
    public record AcceptIdentity(String identity) {}

    /** A missing field leaves what is there. */
    public record SetGateway(Optional<String> insideHost, Optional<String> endpoint) {}

    private OfficeApi() {}
}
