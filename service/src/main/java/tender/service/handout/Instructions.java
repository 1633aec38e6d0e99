package tender.service.handout;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.office.Protocol;

/** The steps for a person who has never heard of a tunnel, for the device they hold. */
final class Instructions {
    private static final String SWITCH_ON =
            "Switch the tunnel on. Your device may ask once whether it may add a VPN; allow it.";
    private static final String TRY = "Open something that is only there at the office. If it opens, you are done.";
    private static final String DELETE =
            "Delete the saved file afterwards and never pass it on: it is made for this device alone.";

    private Instructions() {}

    /**
     * For a file that a client imports.
     *
     * @param account that is asked for beside the file, where its password is handed out too
     * @param ownAccount that is asked for, where the person knows its password already
     */
    static List<String> steps(
            Protocol protocol,
            String deviceKind,
            String fileName,
            boolean keyOnDevice,
            Optional<String> account,
            Optional<String> ownAccount) {
        List<String> out = new ArrayList<>();
        boolean phone = deviceKind.equals("phone") || deviceKind.equals("tablet");
        boolean qr = protocol == Protocol.WIREGUARD;
        out.add("Install the " + protocol.title() + " app from your device's own app store, if it is not there yet.");
        if (keyOnDevice) {
            out.add(
                    "Your device made its own key, so the file is not complete by itself: open the tunnel you made on the device and fill in everything from the file; leave its private key as it is.");
        } else if (phone && qr) {
            out.add(
                    "Reading this on another screen: open the app, add a tunnel by scanning a QR code, and point the camera at the picture.");
            out.add("Reading this on the " + deviceKind + " itself: save the file " + fileName
                    + ", then in the app add a tunnel from a file and choose it.");
        } else {
            out.add("Save the file " + fileName + ". In the app, import it and choose that file.");
        }
        account.ifPresent(name -> out.add("When it asks for a name and a password: the name is " + name
                + ", the password is in the other file that is offered here."));
        ownAccount.ifPresent(name -> out.add("When it asks for a name and a password: the name is " + name
                + ", the password is the one you use for it already."));
        out.addAll(List.of(SWITCH_ON, TRY, DELETE));
        return out;
    }

    /** For settings that are typed in. */
    static List<String> typed() {
        return List.of(
                "Save every file that is offered here.",
                "Open the settings sheet and enter what it says, from top to bottom. It names each secret that is asked for.",
                "Where a certificate file asks for a password, it is the passphrase that you entered on this page.",
                SWITCH_ON,
                TRY,
                DELETE);
    }
}
