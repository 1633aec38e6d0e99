package tender.bench;

import com.sun.management.ThreadMXBean;
import java.lang.management.ManagementFactory;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.function.Consumer;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKeyPair;
import tender.core.ike.IkeClient;
import tender.core.ike.IkeSettings;
import tender.core.ike.MainModeProbe;
import tender.core.ike.MainModeResponder;
import tender.core.network.IpAddress;
import tender.core.openvpn.ClientSession;
import tender.core.openvpn.ClientSettings;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.StaticKey;
import tender.core.trial.IcmpEcho;
import tender.core.trial.Stun;
import tender.core.trial.UdpPacket;
import tender.core.wireguard.Initiator;
import tender.core.wireguard.Packets;

/**
 * Gives every side that hears packets mutated ones: {@code PacketFuzz COUNT [SEED]}. Ends with 1 at an exception, at more
 * than 100 ms of CPU, or at more than 64 MiB allocated for one packet, and says which it was.
 */
public final class PacketFuzz {
    private static final long MOST_NANOS = 100_000_000L;
    private static final long MOST_BYTES = 64L * 1024 * 1024;
    private static final int FRESH_AFTER = 500;
    private static final SecureRandom SECURE = new SecureRandom();

    private final Random random;
    private final ThreadMXBean thread = (ThreadMXBean) ManagementFactory.getThreadMXBean();
    private final List<byte[]> seeds = new ArrayList<>();
    private final String openVpnFile;
    private final IkeSettings ikeSettings;
    private List<Consumer<byte[]>> ears;

    private PacketFuzz(long seed) {
        random = new Random(seed);
        Authority authority = Authority.make(
                "Skerrivane Ferries",
                CertificateKey.generate(CertificateKey.Kind.EC_P256, SECURE),
                Instant.now().minus(Duration.ofDays(1)),
                Instant.now().plus(Duration.ofDays(9)),
                SECURE);
        String pem = PemText.write("CERTIFICATE", authority.certificate());
        String key = PemText.write("PRIVATE KEY", authority.key().privateKey().reveal(RevealSecret.TO_WRITE_FILE));
        openVpnFile = "client\nremote 127.0.0.1 1\n<ca>\n" + pem + "</ca>\n<cert>\n" + pem + "</cert>\n<key>\n" + key
                + "</key>\n<tls-crypt>\n" + StaticKey.generate(SECURE) + "</tls-crypt>\n";
        ikeSettings = new IkeSettings(
                "psk",
                Optional.of("mara"),
                List.of(),
                Optional.empty(),
                Optional.empty(),
                Optional.of(Secret.of("for-all")),
                "psk",
                Optional.empty(),
                List.of(),
                "aes256gcm16-prfsha256-ecp256",
                "aes256gcm16",
                List.of(),
                false,
                IkeSettings.PORT);
        fresh();
    }

    /** New listeners, since one that was told nonsense may have given up; their first packets are seeds. */
    private void fresh() {
        Instant now = Instant.now();
        OpenVpnClient file = OpenVpnClient.read(openVpnFile);
        ClientSettings settings = ClientSettings.of(file, file.calls().get(0), ClientSettings.Added.NOTHING);
        ClientSession openVpn = new ClientSession(settings, SECURE);
        ClientSession bare = new ClientSession(
                ClientSettings.of(
                        OpenVpnClient.read(openVpnFile.replaceAll("(?s)<tls-crypt>.*</tls-crypt>\n", "")),
                        file.calls().get(0),
                        ClientSettings.Added.NOTHING),
                SECURE);
        IkeClient ike = new IkeClient(ikeSettings, SECURE);
        Initiator wireGuard = new Initiator(
                TunnelKeyPair.generate(SECURE),
                TunnelKeyPair.generate(SECURE).publicKey(),
                Optional.empty(),
                Duration.ofSeconds(5),
                SECURE);
        MainModeProbe probe = new MainModeProbe(SECURE);
        MainModeResponder port = new MainModeResponder(SECURE, 14);
        byte[] id = new byte[12];
        seeds.clear();
        seeds.add(probe.request());
        seeds.add(port.answer(probe.request()).orElseThrow());
        seeds.addAll(openVpn.toSend(now));
        List<byte[]> begun = bare.toSend(now);
        seeds.addAll(begun);
        // a server's reset that fits, so that what follows is heard
        byte[] reset = new byte[26 + 8];
        reset[0] = 8 << 3;
        Arrays.fill(reset, 1, 9, (byte) 7);
        reset[9] = 1;
        System.arraycopy(begun.get(0), 1, reset, 14, 8);
        bare.onPacket(Arrays.copyOf(reset, 26), now);
        seeds.add(reset);
        seeds.addAll(bare.toSend(now));
        ike.toSend(now).forEach(s -> seeds.add(s.bytes()));
        seeds.add(wireGuard.start(now).bytes());
        seeds.add(Stun.answer(id, IpAddress.parse("192.0.2.1"), 4_000));
        seeds.add(new IcmpEcho(IpAddress.parse("10.0.0.1"), IpAddress.parse("10.0.0.2"), true, 1, 1, new byte[40])
                .encode());
        seeds.add(new UdpPacket(IpAddress.parse("10.0.0.1"), 53, IpAddress.parse("10.0.0.2"), 5_353, new byte[40])
                .encode());
        ears = List.of(
                p -> openVpn.onPacket(p, now),
                p -> bare.onPacket(p, now),
                p -> ike.onPacket(p, false),
                p -> ike.onPacket(p, true),
                p -> wireGuard.onDatagram(p, now),
                probe::read,
                port::answer,
                Packets::decode,
                p -> Stun.seen(p, id),
                Stun::requested,
                IcmpEcho::decode,
                UdpPacket::decode);
    }

    private void run(int count, long seed) {
        long worstNanos = 0;
        long worstBytes = 0;
        for (int i = 0; i < count; i++) {
            if (i % FRESH_AFTER == 0) {
                fresh();
            }
            byte[] packet = mutated(seeds.get(random.nextInt(seeds.size())));
            int which = random.nextInt(ears.size());
            long cpu = thread.getCurrentThreadCpuTime();
            long bytes = thread.getCurrentThreadAllocatedBytes();
            try {
                ears.get(which).accept(packet);
            } catch (RuntimeException | StackOverflowError e) {
                throw new AssertionError("seed " + seed + ", packet " + i + " for " + which, e);
            }
            long nanos = thread.getCurrentThreadCpuTime() - cpu;
            long allocated = thread.getCurrentThreadAllocatedBytes() - bytes;
            boolean warm = i > 20_000;
            if (warm && nanos > MOST_NANOS || allocated > MOST_BYTES) {
                throw new AssertionError("seed " + seed + ", packet " + i + " for " + which + ": " + nanos / 1_000_000
                        + " ms, " + allocated / 1024 + " KiB");
            }
            worstNanos = Math.max(worstNanos, warm ? nanos : 0);
            worstBytes = Math.max(worstBytes, allocated);
        }
        System.out.printf(
                "%d packets, seed %d: at worst %.1f ms of CPU and %d KiB for one%n",
                count, seed, worstNanos / 1e6, worstBytes / 1024);
    }

    /** Throws {@link AssertionError} with the seed and number of a packet that breaks a bound. */
    public static void run(int count) {
        long seed = 20_261_123L;
        new PacketFuzz(seed).run(count, seed);
    }

    private byte[] mutated(byte[] from) {
        byte[] out = from.clone();
        for (int i = 0; i < 1 + random.nextInt(4) && out.length > 0; i++) {
            int at = random.nextInt(out.length);
            switch (random.nextInt(5)) {
                case 0 -> out[at] ^= (byte) (1 << random.nextInt(8));
                case 1 -> out[at] = (byte) random.nextInt(256);
                case 2 -> out = Arrays.copyOf(out, at);
                case 3 -> out = Arrays.copyOf(out, out.length + random.nextInt(200));
                default -> {
                    byte[] other = seeds.get(random.nextInt(seeds.size()));
                    System.arraycopy(other, 0, out, Math.min(at, out.length), Math.min(other.length, out.length - at));
                }
            }
        }
        return out;
    }

    public static void main(String[] args) {
        long seed = args.length > 1 ? Long.parseLong(args[1]) : System.nanoTime();
        new PacketFuzz(seed).run(Integer.parseInt(args[0]), seed);
    }
}
