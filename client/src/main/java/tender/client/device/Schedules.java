package tender.client.device;

import java.nio.file.Path;
import java.util.Locale;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;

/** What makes a machine keep its profiles current by itself, written for the user who runs it. */
final class Schedules {
    private static final String SYSTEMD = """
            # ~/.config/systemd/user/tender-device.service
            [Unit]
            Description=Bring this device's connection profiles up to date

            [Service]
            Type=oneshot
            ExecStart=%1$s device keep --quiet

            # ~/.config/systemd/user/tender-device.timer
            [Unit]
            Description=Bring this device's connection profiles up to date every 15 minutes

            [Timer]
            OnBootSec=1min
            OnUnitActiveSec=15min
            RandomizedDelaySec=2min

            [Install]
            WantedBy=timers.target

            # then: systemctl --user daemon-reload && systemctl --user enable --now tender-device.timer""";
    private static final String LAUNCHD = """
            <!-- ~/Library/LaunchAgents/example.tender.device.plist -->
            <?xml version="1.0" encoding="UTF-8"?>
            <!DOCTYPE plist PUBLIC "-//Apple//DTD PLIST 1.0//EN" "http://www.apple.com/DTDs/PropertyList-1.0.dtd">
            <plist version="1.0">
            <dict>
              <key>Label</key><string>example.tender.device</string>
              <key>ProgramArguments</key>
              <array><string>%1$s</string><string>device</string><string>keep</string><string>--quiet</string></array>
              <key>StartInterval</key><integer>900</integer>
              <key>RunAtLoad</key><true/>
            </dict>
            </plist>
            <!-- then: launchctl load ~/Library/LaunchAgents/example.tender.device.plist -->""";
    private static final String WINDOWS =
            "schtasks /Create /TN \"Tender device\" /SC MINUTE /MO 15 /TR \"\\\"%1$s\\\" device keep --quiet\"";

    private Schedules() {}

    static String of(String system) {
        String text = switch (system.toLowerCase(Locale.ROOT)) {
            case "systemd" -> SYSTEMD;
            case "launchd" -> LAUNCHD;
            case "windows" -> WINDOWS;
            default -> throw CallFailure.of(ProblemCode.MALFORMED, "--schedule is systemd, launchd or windows");
        };
        return String.format(Locale.ROOT, text, program());
    }

    private static String program() {
        String told = System.getenv("TENDER_PROGRAM");
        return told == null || told.isEmpty()
                ? "tender"
                : Path.of(told).toAbsolutePath().normalize().toString();
    }
}
