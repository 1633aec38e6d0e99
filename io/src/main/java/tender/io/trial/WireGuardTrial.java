package tender.io.trial;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.PortUnreachableException;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.stream.Stream;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;
import tender.core.trial.FirstHosts;
import tender.core.trial.Measured;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.Neighbours;
import tender.core.trial.Observation;
import tender.core.trial.Question;
import tender.core.trial.Rung;
import tender.core.wireguard.Initiator;
import tender.io.names.NameService;

/**
 * Walks the ladder for one WireGuard profile over a socket of its own. One instance is one trial, run on the calling
 * thread; its time is bounded by the sum of {@link #HANDSHAKE_WAIT} and the waits for echoes, and the resolver's.
 */
public final class WireGuardTrial {
    public static final Duration HANDSHAKE_WAIT = Duration.ofMillis(3_500);
    private static final Duration RETRY = Duration.ofSeconds(1);
    private static final Duration TICK = Duration.ofMillis(100);

    private final Question question;
    private final NameService names;
    private final MeasurementOptions wanted;
    private final Consumer<Rung> entering;
    private final SecureRandom random = new SecureRandom();
    private final List<Long> millis = new ArrayList<>();
    private long since = System.nanoTime();
    private Optional<Measured> measured = Optional.empty();

    /** @param entering told each rung as it begins, for a ladder drawn live */
    public WireGuardTrial(Question question, NameService names, MeasurementOptions wanted, Consumer<Rung> entering) {
        this.question = question;
        this.names = names;
        this.wanted = wanted;
        this.entering = entering;
    }

    /** What was measured beyond the verdict, after {@link #run}. */
    public Optional<Measured> measured() {
        return measured;
    }

    public Observation run() {
        entering.accept(Rung.NAME);
        Dialled called = Dialled.of(question.endpoint(), names);
        Observation.Name name = called.name();
        Optional<IpAddress> dialled = called.address();
        lap();
        if (dialled.isEmpty()) {
            return seen(name, dialled, Observation.Path.NOT_TRIED, Observation.Handshake.NOT_TRIED);
        }
        entering.accept(Rung.ADDRESS);
        try (Wire wire = Wire.udp(new InetSocketAddress(
                InetAddress.getByAddress(dialled.get().toBytes()),
                question.endpoint().port().number()))) {
            lap();
            return shakeHands(name, dialled, wire);
        } catch (IOException e) {
            lap();
            return seen(name, dialled, Observation.Path.UNREACHABLE, Observation.Handshake.NOT_TRIED);
        }
    }

    private Observation shakeHands(Observation.Name name, Optional<IpAddress> dialled, Wire wire) throws IOException {
        entering.accept(Rung.PORT);
        Initiator initiator =
                new Initiator(question.own(), question.gatewayKey(), question.presharedKey(), RETRY, random);
        Instant end = Instant.now().plus(HANDSHAKE_WAIT);
        boolean underLoad = false;
        try {
            wire.send(initiator.start(Instant.now()).bytes());
            entering.accept(Rung.HANDSHAKE);
            while (Instant.now().isBefore(end)) {
                Optional<byte[]> datagram = wire.receive(TICK);
                Initiator.Event event = datagram.isPresent()
                        ? initiator.onDatagram(datagram.get(), Instant.now())
                        : initiator.onTick(Instant.now());
                switch (event.kind()) {
                    case SENT_INITIATION -> wire.send(event.bytes());
                    case ESTABLISHED -> {
                        laps(2);
                        return echo(name, dialled, initiator, wire);
                    }
                    case RESPONSE_UNREADABLE -> {
                        laps(2);
                        return seen(name, dialled, Observation.Path.ANSWERED, Observation.Handshake.UNREADABLE);
                    }
                    case PEER_UNDER_LOAD -> underLoad = true; // the next initiation shows the cookie
                    default -> {
                        // not for us: go on waiting
                    }
                }
            }
            laps(2);
            return underLoad
                    ? seen(name, dialled, Observation.Path.ANSWERED, Observation.Handshake.UNDER_LOAD)
                    : seen(name, dialled, Observation.Path.SILENT, Observation.Handshake.SILENT);
        } catch (PortUnreachableException e) {
            lap();
            return seen(name, dialled, Observation.Path.REFUSED, Observation.Handshake.NOT_TRIED);
        }
    }

    private Observation echo(Observation.Name name, Optional<IpAddress> dialled, Initiator initiator, Wire wire)
            throws IOException {
        entering.accept(Rung.TUNNEL_ADDRESS);
        Tunnel through = new Through(initiator, wire);
        Inside inside = new Inside(through, random);
        Observation.Echo gateway = inside.echo(question.gatewayInside());
        lap();
        entering.accept(Rung.ECHO);
        Observation.Echo host = inside.echo(question.insideHost().filter(question::reaches));
        FirstHosts first = question.insideHost().isPresent() || gateway == Observation.Echo.ANSWERED
                ? FirstHosts.NONE
                : inside.first(FirstHosts.of(
                        question.reach().stream().map(InterfaceAddress::network).toList(), question.dns(), own()));
        Optional<IpAddress> admitted = host == Observation.Echo.ANSWERED
                        || gateway == Observation.Echo.ANSWERED
                        || first.answered().isPresent()
                ? Optional.empty()
                : inside.answered(Neighbours.of(own()), asked(first));
        lap();
        lap();
        if (wanted.anything()) {
            measured = Optional.of(new Measuring(through, random)
                    .measure(
                            wanted,
                            host == Observation.Echo.ANSWERED ? question.insideHost() : first.answered(),
                            question.dns().stream().filter(IpAddress::isV4).findFirst(),
                            question::reaches));
        }
        return new Observation(
                name,
                dialled,
                Observation.Path.ANSWERED,
                Observation.Handshake.ESTABLISHED,
                gateway,
                host,
                first,
                admitted,
                millis);
    }

    private List<IpAddress> own() {
        return question.addresses().stream().map(InterfaceAddress::address).toList();
    }

    private List<IpAddress> asked(FirstHosts first) {
        return Stream.of(
                        question.gatewayInside().stream(),
                        question.insideHost().filter(question::reaches).stream(),
                        first.asked().stream())
                .flatMap(Function.identity())
                .distinct()
                .toList();
    }

    private final class Through implements Tunnel {
        private final Initiator initiator;
        private final Wire wire;
        private final Deque<byte[]> received = new ArrayDeque<>();

        private Through(Initiator initiator, Wire wire) {
            this.initiator = initiator;
            this.wire = wire;
        }

        @Override
        public Optional<IpAddress> source(IpAddress.Family family) {
            return question.source(family);
        }

        @Override
        public void send(byte[] packet) throws IOException {
            wire.send(initiator.seal(packet));
        }

        @Override
        public void pump(Duration wait) throws IOException {
            Optional<byte[]> datagram = wire.receive(wait);
            Initiator.Event event = datagram.isPresent()
                    ? initiator.onDatagram(datagram.get(), Instant.now())
                    : initiator.onTick(Instant.now());
            if (event.kind() == Initiator.Kind.RECEIVED) {
                received.add(event.bytes());
            } else if (event.kind() == Initiator.Kind.SENT_INITIATION) {
                wire.send(event.bytes());
            }
        }

        @Override
        public Optional<byte[]> received() {
            return Optional.ofNullable(received.poll());
        }

        @Override
        public boolean isClosed() {
            return false;
        }
    }

    private Observation seen(
            Observation.Name name,
            Optional<IpAddress> dialled,
            Observation.Path path,
            Observation.Handshake handshake) {
        return new Observation(
                name, dialled, path, handshake, Observation.Echo.NOT_TRIED, Observation.Echo.NOT_TRIED, millis);
    }

    private void lap() {
        laps(1);
    }

    /** Ends rungs that one exchange settles together; the time stands at each. */
    private void laps(int rungs) {
        long now = System.nanoTime();
        for (int i = 0; i < rungs; i++) {
            millis.add((now - since) / 1_000_000);
        }
        since = now;
    }
}
