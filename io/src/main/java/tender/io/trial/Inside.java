package tender.io.trial;

import java.io.IOException;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import tender.core.network.IpAddress;
import tender.core.trial.FirstHosts;
import tender.core.trial.IcmpEcho;
import tender.core.trial.Observation.Echo;
import tender.core.trial.UdpPacket;

/** What is asked of hosts inside, through a tunnel of any kind. */
final class Inside {
    static final Duration ECHO_WAIT = Duration.ofMillis(2_500);
    private static final Duration ECHO_RETRY = Duration.ofMillis(300);
    private static final Duration TICK = Duration.ofMillis(50);
    static final Duration PACE = Duration.ofMillis(10);
    static final Duration SIZE_WAIT = Duration.ofMillis(400);
    static final Duration ANSWER_WAIT = Duration.ofSeconds(2);
    static final int PAYLOAD_BYTES = 32;
    static final int AT_ONCE = 32;

    private final Tunnel tunnel;
    private final SecureRandom random;

    Inside(Tunnel tunnel, SecureRandom random) {
        this.tunnel = tunnel;
        this.random = random;
    }

    /** Sends an echo until it is answered, again every third of a second: first packets are lost while a device wakes up. */
    Echo echo(Optional<IpAddress> target) throws IOException {
        List<IpAddress> targets = fromHere(target.stream().toList());
        if (targets.isEmpty()) {
            return Echo.NOT_TRIED;
        }
        return answering(targets).isPresent() ? Echo.ANSWERED : Echo.SILENT;
    }

    /** Asks hosts side by side until one answers. */
    FirstHosts first(List<IpAddress> targets) throws IOException {
        List<IpAddress> asked = fromHere(targets);
        return asked.isEmpty() ? FirstHosts.NONE : new FirstHosts(asked, answering(asked));
    }

    /** Those of a family that the tunnel has an address of. */
    private List<IpAddress> fromHere(List<IpAddress> targets) {
        return targets.stream()
                .filter(t -> tunnel.source(t.family()).isPresent())
                .toList();
    }

    private Optional<IpAddress> answering(List<IpAddress> targets) throws IOException {
        byte[] payload = bytes(PAYLOAD_BYTES);
        int identifier = random.nextInt(65_536);
        long end = System.nanoTime() + ECHO_WAIT.toNanos();
        long nextSend = System.nanoTime();
        int sequence = 0;
        while (System.nanoTime() < end && !tunnel.isClosed()) {
            if (System.nanoTime() >= nextSend) {
                for (IpAddress target : targets) {
                    IpAddress source = tunnel.source(target.family()).orElseThrow();
                    tunnel.send(new IcmpEcho(source, target, false, identifier, sequence, payload).encode());
                }
                sequence++;
                nextSend = System.nanoTime() + ECHO_RETRY.toNanos();
            }
            tunnel.pump(TICK);
            for (Optional<byte[]> in = tunnel.received(); in.isPresent(); in = tunnel.received()) {
                byte[] packet = in.get();
                Optional<IpAddress> from = targets.stream()
                        .filter(t -> reply(packet, identifier, t, payload).isPresent())
                        .findFirst();
                if (from.isPresent()) {
                    return from;
                }
            }
        }
        return Optional.empty();
    }

    /**
     * Asks hosts from many addresses in place of the own.
     *
     * @param sources the own address among them; where it is answered too, nothing is told
     * @return the other address that was answered first
     */
    Optional<IpAddress> answered(List<IpAddress> sources, List<IpAddress> targets) throws IOException {
        byte[] payload = bytes(PAYLOAD_BYTES);
        int identifier = random.nextInt(65_536);
        Set<IpAddress> answered = new LinkedHashSet<>();
        for (int round = 0; round < 2 && answered.isEmpty(); round++) {
            int sent = 0;
            for (IpAddress source : sources) {
                for (IpAddress target : targets) {
                    if (source.family() == target.family()) {
                        tunnel.send(new IcmpEcho(source, target, false, identifier, round, payload).encode());
                        if (++sent % AT_ONCE == 0) {
                            collect(identifier, targets, payload, answered, PACE);
                        }
                    }
                }
            }
            collect(identifier, targets, payload, answered, SIZE_WAIT);
        }
        return answered.stream()
                .filter(a -> answered.stream()
                        .noneMatch(
                                o -> tunnel.source(o.family()).filter(o::equals).isPresent()))
                .findFirst();
    }

    private void collect(int identifier, List<IpAddress> targets, byte[] payload, Set<IpAddress> into, Duration wait)
            throws IOException {
        long end = System.nanoTime() + wait.toNanos();
        do {
            tunnel.pump(PACE);
            for (Optional<byte[]> in = tunnel.received(); in.isPresent(); in = tunnel.received()) {
                byte[] packet = in.get();
                targets.stream()
                        .flatMap(t -> reply(packet, identifier, t, payload).stream())
                        .map(IcmpEcho::target)
                        .forEach(into::add);
            }
        } while (System.nanoTime() < end && !tunnel.isClosed());
    }

    static Optional<IcmpEcho> reply(byte[] packet, int identifier, IpAddress from, byte[] payload) {
        return IcmpEcho.decode(packet)
                .filter(e -> e.reply()
                        && e.identifier() == identifier
                        && e.source().equals(from)
                        && Arrays.equals(e.payload(), payload));
    }

    byte[] bytes(int count) {
        byte[] out = new byte[count];
        random.nextBytes(out);
        return out;
    }

    <T> Optional<T> await(Function<byte[], Optional<T>> wanted, Duration wait) throws IOException {
        long end = System.nanoTime() + wait.toNanos();
        while (System.nanoTime() < end && !tunnel.isClosed()) {
            tunnel.pump(TICK);
            for (Optional<byte[]> in = tunnel.received(); in.isPresent(); in = tunnel.received()) {
                Optional<T> found = wanted.apply(in.get());
                if (found.isPresent()) {
                    return found;
                }
            }
        }
        return Optional.empty();
    }

    /** Sends a datagram through the tunnel and gives what comes back to it; asked again once. */
    Optional<byte[]> ask(IpAddress host, int port, byte[] question) throws IOException {
        Optional<IpAddress> source = tunnel.source(IpAddress.Family.V4);
        if (source.isEmpty() || !host.isV4()) {
            return Optional.empty();
        }
        int own = 49_152 + random.nextInt(16_000);
        for (int i = 0; i < 2; i++) {
            tunnel.send(new UdpPacket(source.get(), own, host, port, question).encode());
            Optional<byte[]> answer = await(
                    in -> UdpPacket.decode(in)
                            .filter(p -> p.source().equals(host) && p.sourcePort() == port && p.targetPort() == own)
                            .map(UdpPacket::payload),
                    ANSWER_WAIT);
            if (answer.isPresent()) {
                return answer;
            }
        }
        return Optional.empty();
    }
}
