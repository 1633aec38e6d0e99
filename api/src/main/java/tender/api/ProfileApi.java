package tender.api;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Profiles and their revisions. */
public final class ProfileApi {
    /**
     * {@code listener} may be left out where the gateway has one. {@code publicKey} is given when the device made its own
     * key pair; otherwise Tender makes one. {@code reach} are networks; {@code fullTunnel} sends everything. {@code address} is a tunnel address that is wanted in
     * place of the next free one; it stays the device's. {@code account}
     * is who signs in where an account is asked for; the person's handle if left out, or the profile's label where
     * {@code makeAccount} lets Tender make it at the gateway. {@code authority} signs where the
     * gateway does not tell which one it believes. {@code reason} is why a broken kind of VPN is handed out all the same.
     */
    public record Issue(
            String person,
            String device,
            String gateway,
            Optional<String> listener,
            Optional<String> publicKey,
            Optional<Boolean> fullTunnel,
            Optional<List<String>> reach,
            Optional<List<String>> dns,
            Optional<String> address,
            Optional<Instant> until,
            Optional<String> account,
            Optional<Boolean> makeAccount,
            Optional<String> authority,
            Optional<String> reason,
            Optional<Boolean> dryRun) {}

    /** To every device of a team, or of everyone, that has none there yet. */
    public record IssueMany(
            String gateway,
            Optional<String> listener,
            Optional<String> team,
            Optional<Instant> until,
            Optional<Boolean> makeAccounts,
            Optional<Boolean> dryRun) {}

    /** @param present labels of those that had one already */
    public record IssuedMany(List<String> issued, Optional<String> jobId, List<String> present) {}

    public record Issued(Profile profile, Optional<String> jobId) {}

    /** {@code to} names a listener side by side with the profile's own, to move it there; {@code until} is the new end. */
    public record Renew(Optional<String> to, Optional<Instant> until) {}

    /** How well it is known to work: proven, seen, failing, or unknown; with the time and what it rests on. */
    public record Proof(String state, Optional<Instant> at, String restsOn) {}

    /**
     * By what the gateway knows the device.
     *
     * @param kind key, certificate name or account
     * @param value the public key, or the name
     */
    public record Identity(String kind, String value) {}

    /** @param instruction what somebody has to do by hand at the gateway, in words */
    public record Profile(
            String id,
            String label,
            String origin,
            String state,
            Optional<String> problem,
            Optional<String> person,
            Optional<String> personName,
            Optional<String> device,
            String gateway,
            String listener,
            Identity identity,
            String custody,
            List<String> addresses,
            List<String> reach,
            boolean fullTunnel,
            List<String> dns,
            int revision,
            Proof proof,
            boolean connected,
            Optional<Instant> lastHeard,
            Optional<String> handout,
            Optional<String> instruction,
            List<Revision> revisions,
            Instant createdAt,
            int version) {}

    public record Revision(
            String id, int number, String digest, String fileName, Map<String, String> madeFor, Instant createdAt) {}

    /** What stands in a revision: the file's lines with every secret kept back, and the same in words. */
    public record Inside(int number, String fileName, List<String> lines, InspectApi.Report words) {}

    private ProfileApi() {}
}
