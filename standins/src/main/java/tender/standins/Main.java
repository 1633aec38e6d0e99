package tender.standins;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CountDownLatch;
import tender.core.network.IpAddress;
import tender.standins.demo.AdminKey;
import tender.standins.demo.DemoWorld;

/** Runs the demo company's outside world until it is stopped. Places are settings in the environment. */
public final class Main {
    private Main() {}

    public static void main(String[] args) throws IOException, GeneralSecurityException, InterruptedException {
        Map<String, String> env = System.getenv();
        Path folder =
                Path.of(env.getOrDefault("STANDINS_FOLDER", ".data/standins")).toAbsolutePath();
        Files.createDirectories(folder);
        DemoWorld.Place place = new DemoWorld.Place(
                folder,
                env.getOrDefault("STANDINS_RANGE", "127.10"),
                Integer.parseInt(env.getOrDefault("STANDINS_SSH_PORT", "2204")),
                Integer.parseInt(env.getOrDefault("STANDINS_GATEWAY_API_PORT", "8414")),
                Integer.parseInt(env.getOrDefault("STANDINS_TUNNEL_PORT", "51820")),
                address(env.getOrDefault("STANDINS_NAME_SERVER", "127.10.0.53:5300")),
                env.getOrDefault("STANDINS_FAULTS", "").equals("yes"),
                Optional.of(env.getOrDefault("STANDINS_NAME_LATE_SECONDS", ""))
                        .filter(t -> !t.isEmpty())
                        .map(t -> Duration.ofSeconds(Long.parseLong(t))));
        DemoWorld.start(place, AdminKey.at(folder.resolve("keeper-key")));
        System.out.println("stand-ins ready");
        new CountDownLatch(1).await();
    }

    private static InetSocketAddress address(String text) throws IOException {
        int colon = text.lastIndexOf(':');
        IpAddress address = IpAddress.parse(text.substring(0, colon));
        return new InetSocketAddress(
                InetAddress.getByAddress(address.toBytes()), Integer.parseInt(text.substring(colon + 1)));
    }
}
