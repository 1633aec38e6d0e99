package tender.api;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.credential.Revealed;
import tender.core.credential.Secret;

/** Provisioning files, and the devices that join with them and keep themselves current. */
public final class ProvisionApi {
    /**
     * What files are made.
     *
     * @param devices as PERSON/DEVICE, a file for each
     * @param team in their place: one file that each member joins with, by a code of their own
     * @param gateways as GATEWAY or GATEWAY/LISTENER, in order of priority; empty: those where a device has profiles
     * @param services where devices find the service, in order of priority; empty: the staff's page
     * @param days until a file ends; empty: 7
     * @param code whether a code is asked for beside the file; of a team it always is
     * @param dryRun check all of it and make nothing
     */
    public record Create(
            List<String> devices,
            Optional<String> team,
            List<String> gateways,
            List<String> services,
            Optional<Integer> days,
            Optional<Boolean> code,
            Optional<Boolean> dryRun) {}

    /**
     * A file that was made; it is shown once.
     *
     * @param device as PERSON/DEVICE
     * @param codes by handle: to be told another way than the file
     * @param file empty where nothing was made
     */
    public record File(
            Optional<String> id,
            Optional<String> device,
            Optional<String> team,
            String fileName,
            Instant ends,
            List<String> gateways,
            @Revealed Map<String, Secret> codes,
            @Revealed Optional<Secret> file) {}

    /**
     * @param signer fingerprint that people compare when they join; tell it another way than the file
     * @param notes what whoever hands the files out should know
     */
    public record Created(String signer, List<File> files, List<String> notes) {}

    /** @param state open, used, ended or withdrawn */
    public record Provision(
            String id,
            Optional<String> device,
            Optional<String> team,
            String state,
            boolean asksCode,
            int joined,
            String createdBy,
            Instant createdAt,
            Instant ends) {}

    /**
     * A device that joined.
     *
     * @param state joining, joined, failed, left or ended
     * @param profiles that there are for it
     * @param current those of them that it holds in the newest revision
     * @param proven those that it connected with in the newest revision
     * @param found what it says where it could not connect
     */
    public record Enrolment(
            String id,
            String person,
            String device,
            String system,
            String state,
            Optional<String> problem,
            Instant joinedAt,
            Instant seenAt,
            int profiles,
            int current,
            int proven,
            int failing,
            Optional<String> found) {}

    /**
     * A device joins: the first call that its key signs.
     *
     * @param person handle of who joins with a team's file
     * @param sealingKey its X25519 key, base64url
     */
    public record Join(
            Secret token,
            Optional<String> person,
            Optional<Secret> code,
            String device,
            String system,
            String sealingKey) {}

    /** @param state of the enrolment */
    public record Joined(String enrolment, String device, String state) {}

    /**
     * What waits for a device.
     *
     * @param state of its enrolment; where it is not joined, there is nothing for it any more
     */
    public record Waiting(String state, Optional<String> problem, List<Sealed> profiles) {}

    /** @param sealed to the device's key, base64 */
    public record Sealed(String profile, int revision, int position, String sealed) {}

    /**
     * What a device holds.
     *
     * @param works whether it connects with it; empty where it was not tried
     */
    public record Held(String profile, int revision, Optional<Boolean> works, Optional<String> found) {}

    public record Report(List<Held> held) {}

    private ProvisionApi() {}
}
