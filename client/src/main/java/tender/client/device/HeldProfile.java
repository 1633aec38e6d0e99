package tender.client.device;

import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;

/**
 * A profile that this device holds.
 *
 * @param position in the order in which gateways are to be tried
 * @param files that belong to it, the client file first
 * @param works whether it connects; empty where it was not tried, or cannot be
 * @param copies other files that hold the same key
 */
record HeldProfile(
        UUID profile,
        String label,
        String gateway,
        String protocol,
        int revision,
        int position,
        List<Kept> files,
        Optional<Boolean> works,
        Optional<String> found,
        Optional<Instant> triedAt,
        List<String> copies) {
    /**
     * A file on disk.
     *
     * @param digest SHA-256 of what is to be there
     * @param before of what may still be there, where writing was interrupted
     */
    record Kept(String path, String digest, Optional<String> before) {
        boolean isOurs(String found) {
            return found.equals(digest) || before.equals(Optional.of(found));
        }
    }

    HeldProfile tried(Optional<Boolean> shown, Optional<String> words, Instant at) {
        return new HeldProfile(
                profile, label, gateway, protocol, revision, position, files, shown, words, Optional.of(at), copies);
    }

    HeldProfile at(List<Kept> places) {
        return new HeldProfile(
                profile, label, gateway, protocol, revision, position, places, works, found, triedAt, copies);
    }

    Path main() {
        return Path.of(files.get(0).path());
    }
}
