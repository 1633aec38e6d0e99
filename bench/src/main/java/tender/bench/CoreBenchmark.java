package tender.bench;

import java.security.SecureRandom;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.concurrent.TimeUnit;
import org.bouncycastle.math.ec.rfc7748.X25519;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Param;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.AddressPlan;
import tender.core.network.AddressPlan.Placed;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.profile.ClientProfile;
import tender.core.profile.WireGuardFile;
import tender.core.wireguard.Initiator;
import tender.core.wireguard.Packets;
import tender.core.wireguard.Responder;

/** What later work rests on: overlap search by number of networks, a handshake against its bare key agreements, reading a large file. */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MICROSECONDS)
public class CoreBenchmark {
    @Param({"1000", "10000", "100000"})
    public int networks;

    private final SecureRandom random = new SecureRandom();
    private final TunnelKeyPair client = TunnelKeyPair.generate(random);
    private final TunnelKeyPair gateway = TunnelKeyPair.generate(random);
    private List<Placed<Integer>> placed;
    private String file;

    @Setup
    public void setUp() {
        Random seeded = new Random(1);
        placed = new ArrayList<>();
        for (int i = 0; i < networks; i++) {
            placed.add(new Placed<>(
                    Cidr.of(
                            new IpAddress(IpAddress.Family.V4, 0, seeded.nextLong() & 0xffffffffL),
                            24 + seeded.nextInt(9)),
                    i));
        }
        StringBuilder text = new StringBuilder("[Interface]\nListenPort = 51820\n");
        for (int i = 0; i < 1_000; i++) {
            text.append('\n')
                    .append(ClientProfile.gatewaySection(
                            "peer " + i,
                            TunnelKeyPair.generate(random).publicKey(),
                            Optional.empty(),
                            List.of(Cidr.host(IpAddress.parse("10.99.0.0").plus(i)))));
        }
        file = text.toString();
    }

    @Benchmark
    public Object overlaps() {
        return AddressPlan.overlaps(placed);
    }

    @Benchmark
    public Object handshakeBothSides() {
        Initiator initiator =
                new Initiator(client, gateway.publicKey(), Optional.empty(), Initiator.RETRY_AFTER, random);
        byte[] first = initiator.start(Instant.now()).bytes();
        Responder responder = new Responder(gateway, random);
        Responder.Call call = responder
                .open((Packets.Initiation) Packets.decode(first).orElseThrow(), first)
                .orElseThrow();
        return initiator.onDatagram(
                responder
                        .answer(call, Optional.empty(), Instant.now())
                        .orElseThrow()
                        .response(),
                Instant.now());
    }

    /** The same number of bare X25519 operations: eight agreements and two key pairs. */
    @Benchmark
    public Object bareAgreements() {
        byte[] secret = new byte[X25519.SCALAR_SIZE];
        byte[] out = new byte[X25519.POINT_SIZE];
        for (int i = 0; i < 2; i++) {
            X25519.generatePrivateKey(random, secret);
            X25519.generatePublicKey(secret, 0, out, 0);
        }
        byte[] shared = new byte[X25519.POINT_SIZE];
        for (int i = 0; i < 8; i++) {
            X25519.calculateAgreement(secret, 0, gateway.publicKey().toBytes(), 0, shared, 0);
        }
        return shared;
    }

    @Benchmark
    public Object readFileOfThousandPeers() {
        return WireGuardFile.read(file);
    }
}
