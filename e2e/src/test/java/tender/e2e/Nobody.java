package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** The client alone, run by an account that owns nothing and may do nothing, without a service. */
final class Nobody {
    private static final String AS =
            "setpriv --reuid=65534 --regid=65534 --clear-groups --bounding-set=-all --no-new-privs bash -c";

    private Nobody() {}

    /** What a trial of a file says; fails where it is not proven, or where the account has any capability. */
    static String tries(Path file, String name, String options) throws IOException {
        Path open = Files.createTempDirectory("tender-nobody");
        try {
            Shell.need(
                    "bash",
                    "-c",
                    "cp -r " + Shell.ROOT + "/client/target/client-0.1.0.jar " + Shell.ROOT + "/client/target/lib "
                            + open + " && cp " + file + " " + open + "/" + name + " && chmod -R a+rX " + open);
            assertThat(Shell.need("bash", "-c", AS + " 'grep CapEff /proc/self/status'"))
                    .contains("0000000000000000");
            return Shell.need(
                    "bash",
                    "-c",
                    "cd " + open + " && " + AS + " 'HOME=" + open
                            + " exec java -XX:TieredStopAtLevel=1 -jar client-0.1.0.jar trial run " + name + " "
                            + options + "'");
        } finally {
            Shell.run("rm", "-rf", open.toString());
        }
    }
}
