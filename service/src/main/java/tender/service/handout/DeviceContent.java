package tender.service.handout;

import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.core.certificate.KeyStoreFile;
import tender.core.credential.Passphrase;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.handout.Unfit;
import tender.io.provision.DeliveredProfile;
import tender.service.profile.ProfileFiles;
import tender.service.profile.Sheets;
import tender.store.handout.ParcelContent;
import tender.store.jdbc.Db;

/** What a device that keeps itself current gets of a profile: the same as a person who collects it, and through the same gate. */
public final class DeviceContent {
    private final Preparing preparing;
    private final FitGate gate;
    private final SecureRandom random = new SecureRandom();

    DeviceContent(Db db, ProfileFiles files, Sheets sheets, FitGate gate) {
        this.gate = gate;
        this.preparing = new Preparing(db, files, new Contents(sheets, random), gate, random);
    }

    /**
     * A profile as it stands.
     *
     * @param content empty where it is not fit
     * @param reasons why it is not, in words
     * @param behind whether it is not because its listener changed since
     */
    public record Judged(Optional<DeliveredProfile> content, String reasons, boolean behind) {}

    /** The office as it is now, for as many profiles as are judged. */
    public final class Round {
        private final FitGate.Round round;

        private Round(Instant now) {
            this.round = gate.round(now);
        }

        public Judged judge(UUID profileId) {
            FitGate.Judged judged = round.judge(profileId, Optional.empty());
            boolean behind = judged.reasons().stream().anyMatch(r -> r.unfit() == Unfit.LISTENER_CHANGED);
            return new Judged(
                    judged.isFit() ? Optional.of(content(judged.file())) : Optional.empty(),
                    Preparing.words(judged.reasons()),
                    behind);
        }
    }

    public Round round(Instant now) {
        return new Round(now);
    }

    private DeliveredProfile content(ProfileFiles.Newest newest) {
        Secret passphrase = Passphrase.generate(random);
        ParcelContent parcel = preparing.content(newest, passphrase, KeyStoreFile.Form.MODERN);
        List<DeliveredProfile.Part> parts = new ArrayList<>(parcel.parts().stream()
                .map(p -> new DeliveredProfile.Part(lasting(p.name()), decoded(p.content())))
                .toList());
        if (parts.stream().anyMatch(p -> p.name().endsWith(".p12"))) {
            parts.add(new DeliveredProfile.Part(
                    lasting(parcel.fileName()).replaceAll("\\.[a-z]+$", "") + "-passphrase.txt", passphrase));
        }
        return new DeliveredProfile(
                newest.profile().id(),
                newest.profile().label(),
                newest.profile().gateway(),
                Sheets.protocol(newest).word(),
                newest.revision().number(),
                parcel.title(),
                lasting(parcel.fileName()),
                parcel.file(),
                parts,
                parcel.steps().stream().collect(Collectors.toList()));
    }

    /** A file's name without the number of its revision: on a device the next one takes its place. */
    private static String lasting(String name) {
        return name.replaceAll("-r[0-9]+(?=[.-][^/]*$|$)", "");
    }

    private static Secret decoded(Secret base64) {
        return Secret.of(Base64.getDecoder()
                .decode(base64.revealText(RevealSecret.TO_HAND_OUT).getBytes(StandardCharsets.US_ASCII)));
    }
}
