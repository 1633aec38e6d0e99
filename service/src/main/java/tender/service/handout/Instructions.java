package tender.service.handout;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.language.StaffTexts;
import tender.core.office.Protocol;
import tender.core.sheet.Platform;

/** The steps for a person who has never heard of a tunnel, for the device they have and in their language. */
record Instructions(StaffTexts texts, Platform platform) {
    /**
     * What a client asks for beside the file.
     *
     * @param account whose password is handed out too
     * @param ownAccount whose password the person knows already
     * @param passphrase whether the file's key is locked and the passphrase is handed out too
     */
    record Asked(Optional<String> account, Optional<String> ownAccount, boolean passphrase) {}

    /** For a file that a client imports. */
    List<String> steps(Protocol protocol, String deviceKind, String fileName, boolean keyOnDevice, Asked asked) {
        List<String> out = new ArrayList<>();
        boolean phone = deviceKind.equals("phone") || deviceKind.equals("tablet");
        out.add(texts.get("steps.install." + installedFrom(), "app", protocol.title()));
        if (keyOnDevice) {
            out.add(texts.get("steps.key-on-device"));
        } else if (phone && protocol == Protocol.WIREGUARD) {
            out.add(texts.get("steps.scan"));
            out.add(texts.get("steps.import-on-phone", "file", fileName));
        } else {
            out.add(texts.get("steps.import", "file", fileName));
        }
        asked.account().ifPresent(name -> out.add(texts.get("steps.account", "account", name)));
        asked.ownAccount().ifPresent(name -> out.add(texts.get("steps.own-account", "account", name)));
        if (asked.passphrase()) {
            out.add(texts.get("steps.passphrase"));
        }
        out.addAll(atTheEnd());
        return out;
    }

    /** For settings that are typed in. */
    List<String> typed() {
        List<String> out = new ArrayList<>();
        out.add(texts.get("steps.save-all"));
        out.add(texts.get("steps.type"));
        out.add(texts.get("steps.certificate-password"));
        out.addAll(atTheEnd());
        return out;
    }

    private String installedFrom() {
        return switch (platform) {
            case WINDOWS -> "windows";
            case LINUX -> "linux";
            case APPLE, ANDROID -> "phone";
        };
    }

    private List<String> atTheEnd() {
        return List.of(texts.get("steps.switch-on"), texts.get("steps.try"), texts.get("steps.delete"));
    }
}
