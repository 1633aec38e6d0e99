package tender.service.handout;

import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.KeyStoreFile;
import tender.core.certificate.PemText;
import tender.core.certificate.PrivateKeyFile;
import tender.core.credential.Custody;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.office.Protocol;
import tender.core.profile.IkeProfile;
import tender.core.qr.QrCode;
import tender.core.sheet.Platform;
import tender.core.sheet.SettingsSheet;
import tender.core.sheet.SheetHtml;
import tender.core.sheet.SheetText;
import tender.service.profile.ProfileFiles;
import tender.service.profile.Sheets;
import tender.store.handout.ParcelContent;
import tender.store.profile.Accounts;
import tender.store.profile.Profiles;

/**
 * What a person gets for a profile: one file to import where the client of that kind takes one, else the settings sheet and
 * the parts that cannot be typed. A key store is locked with the passphrase that the person is told anyway.
 */
final class Contents {
    private final Sheets sheets;
    private final SecureRandom random;

    Contents(Sheets sheets, SecureRandom random) {
        this.sheets = sheets;
        this.random = random;
    }

    /**
     * @param account at the gateway, where Tender made it
     * @param form of a key store, where there is one
     */
    ParcelContent of(
            ProfileFiles.Newest newest,
            Optional<ProfileFiles.Account> account,
            String deviceKind,
            Secret passphrase,
            KeyStoreFile.Form form) {
        Protocol protocol = Sheets.protocol(newest);
        return switch (protocol) {
            case WIREGUARD, OPENVPN -> file(newest, account, protocol, deviceKind);
            default -> sheet(newest, account, passphrase, form);
        };
    }

    private static String title(ProfileFiles.Newest newest) {
        Profiles.Profile p = newest.profile();
        return p.personName().orElse("") + ": " + p.device().orElse("device") + " to " + p.gateway();
    }

    private static ParcelContent file(
            ProfileFiles.Newest newest, Optional<ProfileFiles.Account> account, Protocol protocol, String deviceKind) {
        boolean keyOnDevice = newest.profile().custody() == Custody.DEVICE_ONLY
                && !newest.profile().identity().isName();
        Optional<Secret> qr = keyOnDevice || protocol != Protocol.WIREGUARD
                ? Optional.empty()
                : Optional.of(Secret.of(QrCode.of(newest.content().revealText(RevealSecret.TO_HAND_OUT))
                        .svg()));
        return new ParcelContent(
                title(newest),
                newest.revision().fileName(),
                newest.content(),
                qr,
                account.map(a -> password(newest, a)).stream().toList(),
                Instructions.steps(
                        protocol,
                        deviceKind,
                        newest.revision().fileName(),
                        keyOnDevice,
                        account.map(ProfileFiles.Account::name),
                        ownAccount(newest.profile())));
    }

    /** The account that the person has already, where the file rests on one that Tender did not make. */
    private static Optional<String> ownAccount(Profiles.Profile p) {
        return p.account().map(Accounts.Ref::name).filter(name -> p.custody() == Custody.DEVICE_ONLY);
    }

    private ParcelContent sheet(
            ProfileFiles.Newest newest,
            Optional<ProfileFiles.Account> account,
            Secret passphrase,
            KeyStoreFile.Form form) {
        Platform platform = sheets.platform(newest.profile());
        SettingsSheet sheet = sheets.of(newest, Optional.of(platform));
        List<ParcelContent.Part> parts = new ArrayList<>();
        String name = newest.revision().fileName();
        parts.add(part(name.replaceAll("\\.txt$", ".html"), Secret.of(SheetHtml.of(sheet))));
        account.ifPresent(a -> parts.add(password(newest, a)));
        if (Sheets.protocol(newest) == Protocol.IKEV2) {
            IkeProfile ike = IkeProfile.read(newest.content().revealText(RevealSecret.TO_HAND_OUT));
            if (platform == Platform.LINUX) {
                ike.files(name.replaceAll("\\.txt$", "")).forEach((path, content) -> parts.add(part(path, content)));
            } else {
                keyStore(ike, newest.profile().label(), passphrase, form)
                        .ifPresent(store -> parts.add(part(Sheets.keyStoreName(newest), store)));
            }
        }
        return new ParcelContent(
                title(newest), name, Secret.of(SheetText.of(sheet)), Optional.empty(), parts, Instructions.typed());
    }

    /** A file of its own: never on the sheet, which is printed and passed on. */
    private static ParcelContent.Part password(ProfileFiles.Newest newest, ProfileFiles.Account account) {
        return part(newest.revision().fileName().replaceAll("\\.[a-z]+$", "-password.txt"), account.password());
    }

    private static ParcelContent.Part part(String name, Secret content) {
        return new ParcelContent.Part(
                name, Secret.of(Base64.getEncoder().encodeToString(content.reveal(RevealSecret.TO_HAND_OUT))));
    }

    private Optional<Secret> keyStore(IkeProfile ike, String name, Secret passphrase, KeyStoreFile.Form form) {
        if (ike.certificate().isEmpty() || ike.key().isEmpty()) {
            return Optional.empty();
        }
        CertificateKey key = PrivateKeyFile.of(PemText.read(ike.key().get().revealText(RevealSecret.TO_HAND_OUT))
                        .blocks()
                        .get(0))
                .key()
                .orElseThrow();
        List<byte[]> chain = new ArrayList<>(List.of(der(ike.certificate().get())));
        ike.authority().ifPresent(a -> chain.add(der(a)));
        return Optional.of(Secret.of(KeyStoreFile.write(
                form,
                name,
                key,
                chain,
                new String(passphrase.reveal(RevealSecret.TO_HAND_OUT), StandardCharsets.UTF_8),
                random)));
    }

    private static byte[] der(String pem) {
        return PemText.read(pem).blocks().get(0).der();
    }
}
