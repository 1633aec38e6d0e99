package tender.io.trial;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;

/** A network namespace of its own with an inside host, reached from here, and an authority: for a real daemon in it. */
abstract class Lab implements AutoCloseable {
    static final SecureRandom RANDOM = new SecureRandom();
    static final String INSIDE_HOST = "10.20.77.20";
    static final String SERVER_NAME = "orrin.skerrivane.example";

    final Instant now = Instant.now();
    final Authority authority = authority("Skerrivane Ferries");
    final Pair server = sign(authority, Authority.Purpose.SERVER, SERVER_NAME, 0, 30);
    final Pair client = sign(authority, Authority.Purpose.CLIENT, "mara", 0, 30);
    final String address;
    final Path folder;
    final String space;

    /** A certificate and its key as PEM. */
    record Pair(byte[] certificate, CertificateKey pair) {
        String pem() {
            return PemText.write("CERTIFICATE", certificate);
        }

        String key() {
            return PemText.write("PRIVATE KEY", pair.privateKey().reveal(RevealSecret.TO_WRITE_FILE));
        }
    }

    /** @param network two numbers that no other lab has */
    Lab(Path folder, String name, int network) {
        this.folder = folder;
        // three processes run these tests beside each other, each with networks of its own
        int fork = Integer.getInteger("surefire.forkNumber", 1) % 3;
        int third = 20 + 3 * (int) (ProcessHandle.current().pid() % 70) + fork;
        space = "tdr-" + name + third;
        String here = "10." + network + "." + third + ".1";
        address = "10." + network + "." + third + ".2";
        remove();
        Shell.need(
                "bash",
                "-c",
                ("ip netns add %1$s && ip link add %1$s-o type veth peer name %1$s-i && ip link set %1$s-i netns %1$s"
                                + " && ip addr add %2$s/24 dev %1$s-o && ip link set %1$s-o up"
                                + " && ip -n %1$s addr add %3$s/24 dev %1$s-i && ip -n %1$s link set %1$s-i up"
                                + " && ip -n %1$s link set lo up && ip -n %1$s addr add %4$s/32 dev lo")
                        .formatted(space, here, address, INSIDE_HOST));
    }

    static boolean ableToMakeSpaces() {
        return Shell.has("ip")
                && Files.exists(Path.of("/dev/net/tun"))
                && Shell.run("bash", "-c", "ip netns add tender-tv && ip netns del tender-tv")
                                .code()
                        == 0;
    }

    Authority authority(String name) {
        return authority(name, now);
    }

    static Authority authority(String name, Instant now) {
        return Authority.make(
                name,
                CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM),
                now.minus(Duration.ofDays(100)),
                now.plus(Duration.ofDays(300)),
                RANDOM);
    }

    /** @param from and to in days from now */
    Pair sign(Authority by, Authority.Purpose purpose, String name, int from, int to) {
        return sign(by, purpose, name, from, to, CertificateKey.Kind.EC_P256);
    }

    Pair sign(Authority by, Authority.Purpose purpose, String name, int from, int to, CertificateKey.Kind kind) {
        CertificateKey key = CertificateKey.generate(kind, RANDOM);
        return new Pair(
                by.sign(
                        purpose,
                        name,
                        List.of(name),
                        key.publicKey(),
                        now.plus(Duration.ofDays(from)).minus(Duration.ofMinutes(5)),
                        now.plus(Duration.ofDays(to)),
                        Optional.empty(),
                        RANDOM),
                key);
    }

    Path revoked(List<Authority.Revoked> revoked, Instant ends) throws IOException {
        return Files.writeString(
                folder.resolve("revoked.pem"),
                PemText.write(
                        "X509 CRL",
                        authority.revocations(revoked, revoked.size() + 1, now.minus(Duration.ofDays(2)), ends)));
    }

    final void remove() {
        Shell.run("ip", "netns", "del", space);
        Shell.run("ip", "link", "del", space + "-o"); // a deleted namespace lets go of its half only later
    }

    @Override
    public abstract void close();
}
