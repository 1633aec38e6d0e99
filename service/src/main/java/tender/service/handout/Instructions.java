package tender.service.handout;

import java.util.ArrayList;
import java.util.List;

/** The steps for a person who has never heard of a tunnel, for the device they hold. */
final class Instructions {
    private Instructions() {}

    static List<String> steps(String deviceKind, String fileName, boolean keyOnDevice) {
        List<String> out = new ArrayList<>();
        boolean phone = deviceKind.equals("phone") || deviceKind.equals("tablet");
        out.add("Install the WireGuard app from your device's own app store, if it is not there yet.");
        if (keyOnDevice) {
            out.add(
                    "Your device made its own key, so the file is not complete by itself: open the tunnel you made on the device and fill in everything from the file; leave its private key as it is.");
        } else if (phone) {
            out.add(
                    "Reading this on another screen: open the app, add a tunnel by scanning a QR code, and point the camera at the picture.");
            out.add("Reading this on the " + deviceKind + " itself: save the file " + fileName
                    + ", then in the app add a tunnel from a file and choose it.");
        } else {
            out.add("Save the file " + fileName + ". In the app, import a tunnel from a file and choose it.");
        }
        out.add("Switch the tunnel on. Your device may ask once whether it may add a VPN; allow it.");
        out.add("Open something that is only there at the office. If it opens, you are done.");
        out.add("Delete the saved file afterwards and never pass it on: it is made for this device alone.");
        return out;
    }
}
