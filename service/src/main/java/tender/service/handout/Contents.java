package tender.service.handout;

import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.KeyStoreFile;
import tender.core.certificate.PemText;
import tender.core.certificate.PrivateKeyFile;
import tender.core.credential.Custody;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.language.StaffTexts;
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
     * What is sealed.
     *
     * @param account at the gateway, where Tender made it
     * @param form of a key store, where there is one
     * @param language that the person is set to; empty: every language, and whoever collects gets their browser's
     */
    ParcelContent of(
            ProfileFiles.Newest newest,
            ProfileFiles.Typed typed,
            Reader reader,
            Secret passphrase,
            KeyStoreFile.Form form) {
        Protocol protocol = Sheets.protocol(newest);
        boolean imported = protocol == Protocol.WIREGUARD || protocol == Protocol.OPENVPN;
        StaffTexts first = reader.language().map(StaffTexts::of).orElse(StaffTexts.ENGLISH);
        Words words = words(newest, typed, reader, imported, first);
        List<ParcelContent.Part> parts = new ArrayList<>(words.files());
        Secret file = imported ? newest.content() : words.files().get(0).content();
        if (!imported) {
            parts.remove(0);
        }
        typed.account().ifPresent(a -> parts.add(beside(newest, "-password.txt", a.password())));
        typed.passphrase().ifPresent(p -> parts.add(beside(newest, "-passphrase.txt", p)));
        if (protocol == Protocol.IKEV2) {
            parts.addAll(keys(newest, passphrase, form));
        }
        return new ParcelContent(
                words.title(),
                newest.revision().fileName(),
                file,
                qr(newest, protocol),
                parts,
                words.steps(),
                Optional.of(first.language()),
                reader.language().isPresent(),
                reader.language().isPresent() ? Map.of() : translations(newest, typed, reader, imported));
    }

    /**
     * For whom it is.
     *
     * @param deviceKind such as phone or laptop
     * @param language that the person is set to
     */
    record Reader(String deviceKind, Optional<String> language) {}

    /** All that depends on a language: for settings that are typed, the sheet as text, then as a page. */
    private record Words(String title, List<String> steps, List<ParcelContent.Part> files) {}

    private Map<String, ParcelContent.Translation> translations(
            ProfileFiles.Newest newest, ProfileFiles.Typed typed, Reader reader, boolean imported) {
        Map<String, ParcelContent.Translation> out = new TreeMap<>();
        for (String language : StaffTexts.languages()) {
            if (!language.equals(StaffTexts.ENGLISH.language())) {
                Words words = words(newest, typed, reader, imported, StaffTexts.of(language));
                out.put(language, new ParcelContent.Translation(words.title(), words.steps(), words.files()));
            }
        }
        return out;
    }

    private Words words(
            ProfileFiles.Newest newest, ProfileFiles.Typed typed, Reader reader, boolean imported, StaffTexts texts) {
        Profiles.Profile p = newest.profile();
        String name = newest.revision().fileName();
        Platform platform = sheets.platform(p);
        Instructions instructions = new Instructions(texts, platform);
        if (imported) {
            return new Words(
                    Sheets.title(p, texts),
                    instructions.steps(
                            Sheets.protocol(newest),
                            reader.deviceKind(),
                            name,
                            isKeyOnDevice(p),
                            new Instructions.Asked(
                                    typed.account().map(ProfileFiles.Account::name),
                                    ownAccount(p),
                                    typed.passphrase().isPresent())),
                    List.of());
        }
        SettingsSheet sheet = sheets.of(newest, Optional.of(platform), texts);
        return new Words(
                Sheets.title(p, texts),
                instructions.typed(),
                List.of(
                        new ParcelContent.Part(name, Secret.of(SheetText.of(sheet))),
                        part(name.replaceAll("\\.txt$", ".html"), Secret.of(SheetHtml.of(sheet)))));
    }

    private static boolean isKeyOnDevice(Profiles.Profile p) {
        return p.custody() == Custody.DEVICE_ONLY && !p.identity().isName();
    }

    private static Optional<Secret> qr(ProfileFiles.Newest newest, Protocol protocol) {
        return isKeyOnDevice(newest.profile()) || protocol != Protocol.WIREGUARD
                ? Optional.empty()
                : Optional.of(Secret.of(QrCode.of(newest.content().revealText(RevealSecret.TO_HAND_OUT))
                        .svg()));
    }

    /** The account that the person has already, where the file rests on one that Tender did not make. */
    private static Optional<String> ownAccount(Profiles.Profile p) {
        return p.account().map(Accounts.Ref::name).filter(name -> p.custody() == Custody.DEVICE_ONLY);
    }

    /** What cannot be typed: the certificate with its key, as the device takes it. */
    private List<ParcelContent.Part> keys(ProfileFiles.Newest newest, Secret passphrase, KeyStoreFile.Form form) {
        List<ParcelContent.Part> out = new ArrayList<>();
        IkeProfile ike = IkeProfile.read(newest.content().revealText(RevealSecret.TO_HAND_OUT));
        if (sheets.platform(newest.profile()) == Platform.LINUX) {
            ike.files(newest.revision().fileName().replaceAll("\\.txt$", ""))
                    .forEach((path, content) -> out.add(part(path, content)));
        } else {
            keyStore(ike, newest.profile().label(), passphrase, form)
                    .ifPresent(store -> out.add(part(Sheets.keyStoreName(newest), store)));
        }
        return out;
    }

    /** A file of its own: never on the sheet, which is printed and passed on. */
    private static ParcelContent.Part beside(ProfileFiles.Newest newest, String ending, Secret content) {
        return part(newest.revision().fileName().replaceAll("\\.[a-z]+$", ending), content);
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
