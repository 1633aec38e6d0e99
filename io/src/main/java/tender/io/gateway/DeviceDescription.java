package tender.io.gateway;

import java.util.List;

/** What a connector needs to know of one kind of box: which files hold what, and the fixed words of its commands. */
public record DeviceDescription(
        String name,
        List<String> folders,
        String settingsFile,
        String tunnelFolder,
        String applyCommand,
        String statusCommand,
        String clockCommand) {
    /** A router that keeps WireGuard's own files under {@code /tunnels} and its settings in {@code /general.conf}. */
    public static final DeviceDescription PLAIN_ROUTER = new DeviceDescription(
            "plain-router", List.of("/", "/tunnels"), "/general.conf", "/tunnels", "reload", "status", "clock");

    public DeviceDescription {
        folders = List.copyOf(folders);
    }

    public String tunnelFile(String listener) {
        return tunnelFolder + "/" + listener + ".conf";
    }
}
