package tender.bench;

import java.io.File;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.LinkedBlockingQueue;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKeyPair;
import tender.core.ike.IkeSettings;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.network.Transport;
import tender.core.openvpn.ClientSettings;
import tender.core.profile.IkeConnection;
import tender.core.profile.IkeProfile;
import tender.core.profile.StaticKey;
import tender.core.profile.WireGuardFile;
import tender.core.trial.IkeLadder;
import tender.core.trial.IkeQuestion;
import tender.core.trial.Ladder;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.OpenVpnLadder;
import tender.core.trial.OpenVpnQuestion;
import tender.core.trial.Question;
import tender.io.names.NameService;
import tender.io.trial.IkeTrial;
import tender.io.trial.OpenVpnTrial;
import tender.io.trial.WireGuardTrial;
import tender.standins.demo.AdminKey;
import tender.standins.device.Faults;
import tender.standins.device.Journal;
import tender.standins.listener.Callers;
import tender.standins.listener.InsideWorld;
import tender.standins.listener.SimulatedIkeServer;
import tender.standins.listener.SimulatedOpenVpnServer;
import tender.standins.office.SmallOffice;
import tender.standins.router.Router;

/**
 * A thousand trials, mixed, against simulated listeners in the same process: {@code ManyTrials [COUNT [THREADS]]}. Prints the
 * rate, the times of single trials, and the most sockets and memory held at once; ends with 1 where a trial was not proven.
 */
public final class ManyTrials {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final String SERVER = "orrin.skerrivane.example";
    private static final String AT = "127.67.0.1";
    private static final IpAddress HOST = IpAddress.parse("10.20.0.20");
    private static final NameService NAMES = name -> new NameService.Answer(NameService.Status.UNKNOWN, List.of());

    private final Authority authority = Authority.make(
            "Skerrivane Ferries",
            CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM),
            Instant.now().minus(Duration.ofDays(1)),
            Instant.now().plus(Duration.ofDays(9)),
            RANDOM);
    private final List<Callable<Ladder>> kinds = new ArrayList<>();

    private record Pair(byte[] certificate, CertificateKey key) {
        String pem() {
            return PemText.write("CERTIFICATE", certificate);
        }

        String keyPem() {
            return PemText.write("PRIVATE KEY", key.privateKey().reveal(RevealSecret.TO_WRITE_FILE));
        }
    }

    private ManyTrials(Path folder) throws Exception {
        Faults faults = new Faults();
        Journal journal = new Journal();
        InsideWorld world = new InsideWorld(
                Set.of(HOST), IpAddress.parse("10.20.0.53"), Map.of(), InetAddress.getByName(AT), faults);
        Callers callers = new Callers(
                List.of(authority.certificate()), Set.of(), Optional.empty(), Map.of("mara", Secret.of("harbour")));
        openVpn(world, faults, journal, callers);
        ike(world, faults, journal, callers);
        wireGuard(folder);
    }

    private Pair sign(Authority.Purpose purpose, String name) {
        CertificateKey key = CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
        return new Pair(
                authority.sign(
                        purpose,
                        name,
                        List.of(name),
                        key.publicKey(),
                        Instant.now().minusSeconds(60),
                        Instant.now().plus(Duration.ofDays(5)),
                        Optional.empty(),
                        RANDOM),
                key);
    }

    private void openVpn(InsideWorld world, Faults faults, Journal journal, Callers callers) throws IOException {
        String key = StaticKey.generate(RANDOM);
        Pair server = sign(Authority.Purpose.SERVER, SERVER);
        Pair own = sign(Authority.Purpose.CLIENT, "mara");
        SimulatedOpenVpnServer speaker = SimulatedOpenVpnServer.start(
                new SimulatedOpenVpnServer.Setup(
                        "staff",
                        Transport.UDP,
                        new InetSocketAddress(AT, 0),
                        new ClientSettings.Identity(List.of(server.certificate()), server.key()),
                        "crypt",
                        key,
                        "SHA256",
                        List.of("AES-256-GCM"),
                        true,
                        false,
                        false,
                        Cidr.parse("10.98.0.0/16"),
                        List.of(Cidr.parse("10.20.0.0/24")),
                        Optional.empty(),
                        callers),
                world,
                faults,
                journal);
        String file = "client\nremote " + AT + " " + speaker.port() + " udp\nremote-cert-tls server\n<ca>\n"
                + PemText.write("CERTIFICATE", authority.certificate()) + "</ca>\n<cert>\n" + own.pem()
                + "</cert>\n<key>\n" + own.keyPem() + "</key>\n<tls-crypt>\n" + key + "</tls-crypt>\n";
        kinds.add(() -> {
            OpenVpnQuestion q = OpenVpnQuestion.of(
                    file, ClientSettings.Added.NOTHING, Optional.of(HOST), Optional.empty(), Instant.now());
            return OpenVpnLadder.judge(
                    q, new OpenVpnTrial(q, NAMES, MeasurementOptions.NOTHING, rung -> {}).run(), Optional.empty());
        });
    }

    private void ike(InsideWorld world, Faults faults, Journal journal, Callers callers) throws IOException {
        Pair server = sign(Authority.Purpose.SERVER, SERVER);
        Pair own = sign(Authority.Purpose.CLIENT, "mara");
        int port = 36_500;
        SimulatedIkeServer.start(
                new SimulatedIkeServer.Setup(
                        "phones",
                        InetAddress.getByName(AT),
                        port,
                        port + 1,
                        SERVER,
                        new ClientSettings.Identity(List.of(server.certificate()), server.key()),
                        Cidr.parse("10.97.0.0/16"),
                        List.of(Cidr.parse("10.20.0.0/24")),
                        Optional.empty(),
                        Optional.empty(),
                        callers),
                world,
                faults,
                journal);
        String section = new IkeConnection(
                        "orrin",
                        Host.parse(AT),
                        SERVER,
                        IkeConnection.Proof.CERTIFICATE,
                        "mara",
                        Optional.of("mara.pem"),
                        Optional.of("authority.pem"),
                        List.of(Cidr.parse("10.20.0.0/24")))
                .swanctl()
                .replaceFirst("remote_addrs = .*", "remote_addrs = " + AT + "\n    remote_port = " + (port + 1));
        String file = new IkeProfile(
                        section,
                        Optional.of(own.pem()),
                        Optional.of(Secret.of(own.keyPem())),
                        Optional.of(PemText.write("CERTIFICATE", authority.certificate())))
                .text();
        kinds.add(() -> {
            IkeQuestion q =
                    IkeQuestion.of(file, IkeSettings.Added.NOTHING, Optional.empty(), Optional.of(HOST), Instant.now());
            return IkeLadder.judge(
                    q, new IkeTrial(q, NAMES, MeasurementOptions.NOTHING, rung -> {}).run(), Optional.empty());
        });
    }

    /** WireGuard's callers have to come one after another by their stamps, so that each thread has a key of its own. */
    private void wireGuard(Path folder) throws Exception {
        SmallOffice office = SmallOffice.start(folder.resolve("office"), "127.10.95.1");
        String gateway = Files.readString(office.tunnelFile());
        TunnelKeyPair server = TunnelKeyPair.ofPrivate(WireGuardFile.read(gateway)
                .file()
                .own()
                .orElseThrow()
                .privateKey()
                .orElseThrow());
        StringBuilder more = new StringBuilder(gateway);
        List<String> files = new ArrayList<>();
        for (int i = 0; i < 64; i++) {
            TunnelKeyPair own = TunnelKeyPair.generate(RANDOM);
            String address = "10.99.4." + (100 + i);
            more.append("\n[Peer]\nPublicKey = " + own.publicKey() + "\nAllowedIPs = " + address + "/32\n");
            files.add("[Interface]\nPrivateKey = "
                    + Base64.getEncoder().encodeToString(own.privateKey().reveal(RevealSecret.TO_WRITE_FILE))
                    + "\nAddress = " + address
                    + "/32\n[Peer]\nPublicKey = " + server.publicKey() + "\nAllowedIPs = 10.20.4.0/24\nEndpoint = "
                    + office.address() + ":" + office.tunnelPort() + "\n");
        }
        office.close();
        Files.writeString(office.tunnelFile(), more.toString());
        Router.start(new Router.Place(
                folder.resolve("office/pier2"),
                folder.resolve("office/host-key"),
                office.address(),
                0,
                SmallOffice.USER,
                AdminKey.at(office.keyFile()),
                Set.of(IpAddress.parse(SmallOffice.INSIDE_HOST))));
        BlockingQueue<String> free = new LinkedBlockingQueue<>(files);
        kinds.add(() -> {
            String file = free.take();
            try {
                Question q = Question.of(
                        WireGuardFile.read(file).file(),
                        Optional.empty(),
                        Optional.of(IpAddress.parse(SmallOffice.INSIDE_HOST)));
                return Ladder.judge(
                        q,
                        new WireGuardTrial(q, NAMES, MeasurementOptions.NOTHING, rung -> {}).run(),
                        Optional.empty());
            } finally {
                free.put(file);
            }
        });
    }

    private void run(int count, int threads) throws Exception {
        ExecutorService pool = Executors.newFixedThreadPool(threads);
        for (int i = 0; i < 200; i++) {
            kinds.get(i % kinds.size()).call();
        }
        long[] millis = new long[count];
        long begun = System.nanoTime();
        List<Future<Boolean>> all = new ArrayList<>();
        int[] mostSockets = {0};
        long[] mostMemory = {0};
        for (int i = 0; i < count; i++) {
            int n = i;
            all.add(pool.submit(() -> {
                long at = System.nanoTime();
                boolean proven = kinds.get(n % kinds.size()).call().isProven();
                millis[n] = (System.nanoTime() - at) / 1_000_000;
                if (n % 50 == 0) {
                    String[] open = new File("/proc/self/fd").list();
                    mostSockets[0] = Math.max(mostSockets[0], open == null ? 0 : open.length);
                    Runtime r = Runtime.getRuntime();
                    mostMemory[0] = Math.max(mostMemory[0], r.totalMemory() - r.freeMemory());
                }
                return proven;
            }));
        }
        int proven = 0;
        for (Future<Boolean> f : all) {
            proven += f.get() ? 1 : 0;
        }
        double seconds = (System.nanoTime() - begun) / 1e9;
        pool.shutdown();
        Arrays.sort(millis);
        System.out.printf(
                "%d trials by %d threads, %d proven: %.0f a second; single ones %d ms in the middle, %d ms for nine of ten;"
                        + " at most %d open files, %d MiB in use%n",
                count,
                threads,
                proven,
                count / seconds,
                millis[count / 2],
                millis[count * 9 / 10],
                mostSockets[0],
                mostMemory[0] / 1024 / 1024);
        for (Callable<Ladder> kind : kinds) {
            long best = Long.MAX_VALUE;
            for (int i = 0; i < 20; i++) {
                long at = System.nanoTime();
                kind.call();
                best = Math.min(best, (System.nanoTime() - at) / 1_000_000);
            }
            System.out.println("one alone, warm, best of 20: " + best + " ms");
        }
        System.exit(proven == count ? 0 : 1);
    }

    public static void main(String[] args) throws Exception {
        int count = args.length > 0 ? Integer.parseInt(args[0]) : 1_000;
        int threads = args.length > 1 ? Integer.parseInt(args[1]) : 8;
        new ManyTrials(Files.createTempDirectory("many-trials")).run(count, threads);
    }
}
