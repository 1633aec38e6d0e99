package tender.api;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** Client files that somebody has to make at a gateway. */
public final class FileRequestApi {
    /**
     * Whose files to request. Devices that have a file are asked for a new one; with a team, only those without one.
     *
     * @param devices as {@code ana/laptop}, or {@code ana} where she has one device
     * @param team everybody in it
     */
    public record Ask(Optional<List<String>> devices, Optional<String> team, Optional<Boolean> dryRun) {}

    /**
     * A file that was requested.
     *
     * @param user what to call the account or certificate there, so that the file is told by it
     * @param reason new, or renewal: the certificate that the device has ends
     * @param replaces label of the profile that the device has there
     * @param ends when that profile's certificate ends
     */
    public record FileRequest(
            String id,
            String gateway,
            String person,
            String device,
            String user,
            String reason,
            String askedBy,
            Instant askedAt,
            Optional<String> replaces,
            Optional<Instant> ends) {}

    /**
     * What is requested at one gateway, or at all.
     *
     * @param instructions what to do at each gateway, for the person who does it
     */
    public record FileRequests(List<FileRequest> requests, List<String> instructions) {}

    private FileRequestApi() {}
}
