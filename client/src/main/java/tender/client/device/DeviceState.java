package tender.client.device;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.client.command.Json;
import tender.client.command.PrivateFile;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.provision.SealingKey;
import tender.core.provision.SigningKey;
import tender.io.provision.ProvisioningFile;

/**
 * What this device knows of where it joined: a file of mode 0600 in the client's own folder.
 *
 * @param joined whether the service has answered that it joined
 * @param provision the provisioning file's text, as it was opened
 * @param seed of the key that signs its calls, base64url
 * @param secret of the key that things are sealed to, base64url
 * @param folder where its profiles are
 * @param etag of what it holds
 * @param reported whether the service was told what it holds and whether it connects
 */
record DeviceState(
        int version,
        UUID enrolment,
        boolean joined,
        String device,
        String provision,
        Secret seed,
        Secret secret,
        String folder,
        String etag,
        boolean reported,
        List<HeldProfile> held) {
    private static final int VERSION = 1;

    static Path file() {
        return PrivateFile.folder().resolve("device.json");
    }

    static DeviceState begun(UUID enrolment, SigningKey key, SealingKey sealing, String provision, Path folder) {
        return new DeviceState(
                VERSION,
                enrolment,
                false,
                "",
                provision,
                text(key.seed()),
                text(sealing.secret()),
                folder.toAbsolutePath().normalize().toString(),
                "",
                true,
                List.of());
    }

    static Optional<DeviceState> load() {
        try {
            return Optional.of(Json.read(Files.readAllBytes(file()), DeviceState.class));
        } catch (NoSuchFileException e) {
            return Optional.empty();
        } catch (IOException e) {
            throw CallFailure.of(ProblemCode.CONFLICT, file() + " cannot be read: " + e.getMessage());
        }
    }

    /** @throws CallFailure where this device has not joined */
    static DeviceState require() {
        return load().filter(DeviceState::joined)
                .orElseThrow(() -> CallFailure.of(
                        ProblemCode.CONFLICT,
                        "this device has not joined; open a provisioning file: tender device join FILE"));
    }

    void save() {
        PrivateFile.write(file(), Json.write(this));
    }

    ProvisioningFile.Signed opened() {
        return ProvisioningFile.read(provision);
    }

    SigningKey signing() {
        return SigningKey.of(bytes(seed));
    }

    SealingKey sealing() {
        return SealingKey.of(bytes(secret));
    }

    DeviceState as(String name) {
        return new DeviceState(version, enrolment, true, name, provision, seed, secret, folder, etag, reported, held);
    }

    /** What it holds now, of which the service has not heard. */
    DeviceState holding(List<HeldProfile> now, String tag) {
        return new DeviceState(version, enrolment, joined, device, provision, seed, secret, folder, tag, false, now);
    }

    DeviceState told() {
        return new DeviceState(version, enrolment, joined, device, provision, seed, secret, folder, etag, true, held);
    }

    private static Secret text(Secret bytes) {
        return Secret.of(
                Base64.getUrlEncoder().withoutPadding().encodeToString(bytes.reveal(RevealSecret.TO_WRITE_FILE)));
    }

    private static Secret bytes(Secret text) {
        return Secret.of(Base64.getUrlDecoder().decode(text.revealText(RevealSecret.TO_SIGN)));
    }
}
