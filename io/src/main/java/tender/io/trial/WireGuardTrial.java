package tender.io.trial;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.PortUnreachableException;
import java.nio.ByteBuffer;
import java.nio.channels.DatagramChannel;
import java.nio.channels.SelectionKey;
import java.nio.channels.Selector;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import tender.core.network.IpAddress;
import tender.core.trial.IcmpEcho;
import tender.core.trial.Observation;
import tender.core.trial.Question;
import tender.core.trial.Rung;
import tender.core.wireguard.Initiator;
import tender.io.names.NameService;

/**
 * Walks the ladder for one WireGuard profile over a socket of its own. One instance is one trial, run on the calling
 * thread; its time is bounded by the sum of {@link #HANDSHAKE_WAIT} and twice {@link #ECHO_WAIT}, and the resolver's.
 */
public final class WireGuardTrial {
    public static final Duration HANDSHAKE_WAIT = Duration.ofMillis(3_500);
    public static final Duration ECHO_WAIT = Duration.ofMillis(2_500);
    private static final Duration RETRY = Duration.ofSeconds(1);
    private static final Duration ECHO_RETRY = Duration.ofMillis(500);
    private static final int MAX_DATAGRAM = 2_048;
    private static final int PAYLOAD_BYTES = 32;

    private final Question question;
    private final NameService names;
    private final Consumer<Rung> entering;
    private final SecureRandom random = new SecureRandom();
    private final List<Long> millis = new ArrayList<>();
    private long since = System.nanoTime();

    /** @param entering told each rung as it begins, for a ladder drawn live */
    public WireGuardTrial(Question question, NameService names, Consumer<Rung> entering) {
        this.question = question;
        this.names = names;
        this.entering = entering;
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
        try (DatagramChannel channel = DatagramChannel.open();
                Selector selector = Selector.open()) {
            channel.configureBlocking(false);
            channel.register(selector, SelectionKey.OP_READ);
            try {
                channel.connect(new InetSocketAddress(
                        InetAddress.getByAddress(dialled.get().toBytes()),
                        question.endpoint().port().number()));
            } catch (IOException e) {
                lap();
                return seen(name, dialled, Observation.Path.UNREACHABLE, Observation.Handshake.NOT_TRIED);
            }
            lap();
            return shakeHands(name, dialled, channel, selector);
        } catch (IOException e) {
            return seen(name, dialled, Observation.Path.UNREACHABLE, Observation.Handshake.NOT_TRIED);
        }
    }

    private Observation shakeHands(
            Observation.Name name, Optional<IpAddress> dialled, DatagramChannel channel, Selector selector)
            throws IOException {
        entering.accept(Rung.PORT);
        Initiator initiator =
                new Initiator(question.own(), question.gatewayKey(), question.presharedKey(), RETRY, random);
        Instant end = Instant.now().plus(HANDSHAKE_WAIT);
        try {
            channel.write(ByteBuffer.wrap(initiator.start(Instant.now()).bytes()));
            entering.accept(Rung.HANDSHAKE);
            while (Instant.now().isBefore(end)) {
                Optional<byte[]> datagram = receive(channel, selector, Duration.ofMillis(100));
                Initiator.Event event = datagram.isPresent()
                        ? initiator.onDatagram(datagram.get(), Instant.now())
                        : initiator.onTick(Instant.now());
                switch (event.kind()) {
                    case SENT_INITIATION -> channel.write(ByteBuffer.wrap(event.bytes()));
                    case ESTABLISHED -> {
                        laps(2);
                        return echo(name, dialled, initiator, channel, selector);
                    }
                    case RESPONSE_UNREADABLE -> {
                        laps(2);
                        return seen(name, dialled, Observation.Path.ANSWERED, Observation.Handshake.UNREADABLE);
                    }
                    case PEER_UNDER_LOAD -> {
                        laps(2);
                        return seen(name, dialled, Observation.Path.ANSWERED, Observation.Handshake.UNDER_LOAD);
                    }
                    default -> {
                        // not for us: go on waiting
                    }
                }
            }
            laps(2);
            return seen(name, dialled, Observation.Path.SILENT, Observation.Handshake.SILENT);
        } catch (PortUnreachableException e) {
            lap();
            return seen(name, dialled, Observation.Path.REFUSED, Observation.Handshake.NOT_TRIED);
        }
    }

    private Observation echo(
            Observation.Name name,
            Optional<IpAddress> dialled,
            Initiator initiator,
            DatagramChannel channel,
            Selector selector)
            throws IOException {
        entering.accept(Rung.TUNNEL_ADDRESS);
        Observation.Echo gateway = echo(question.gatewayInside(), initiator, channel, selector);
        lap();
        entering.accept(Rung.ECHO);
        Observation.Echo inside =
                question.insideHost().filter(question::reaches).isPresent()
                        ? echo(question.insideHost(), initiator, channel, selector)
                        : Observation.Echo.NOT_TRIED;
        lap();
        return new Observation(
                name, dialled, Observation.Path.ANSWERED, Observation.Handshake.ESTABLISHED, gateway, inside, millis);
    }

    /** Sends an echo until it is answered, again every half second: first packets are lost while a device wakes up. */
    private Observation.Echo echo(
            Optional<IpAddress> target, Initiator initiator, DatagramChannel channel, Selector selector)
            throws IOException {
        Optional<IpAddress> source = target.flatMap(t -> question.source(t.family()));
        if (source.isEmpty()) {
            return Observation.Echo.NOT_TRIED;
        }
        byte[] payload = new byte[PAYLOAD_BYTES];
        random.nextBytes(payload);
        int identifier = random.nextInt(65_536);
        Instant end = Instant.now().plus(ECHO_WAIT);
        Instant nextSend = Instant.MIN;
        int sequence = 0;
        while (Instant.now().isBefore(end)) {
            if (!Instant.now().isBefore(nextSend)) {
                IcmpEcho echo = new IcmpEcho(source.get(), target.get(), false, identifier, sequence++, payload);
                channel.write(ByteBuffer.wrap(initiator.seal(echo.encode())));
                nextSend = Instant.now().plus(ECHO_RETRY);
            }
            Optional<byte[]> datagram = receive(channel, selector, Duration.ofMillis(100));
            boolean answered = datagram.map(d -> initiator.onDatagram(d, Instant.now()))
                    .filter(e -> e.kind() == Initiator.Kind.RECEIVED)
                    .flatMap(e -> IcmpEcho.decode(e.bytes()))
                    .filter(e -> e.reply()
                            && e.identifier() == identifier
                            && e.source().equals(target.get())
                            && java.util.Arrays.equals(e.payload(), payload))
                    .isPresent();
            if (answered) {
                return Observation.Echo.ANSWERED;
            }
        }
        return Observation.Echo.SILENT;
    }

    private static Optional<byte[]> receive(DatagramChannel channel, Selector selector, Duration wait)
            throws IOException {
        ByteBuffer buffer = ByteBuffer.allocate(MAX_DATAGRAM);
        if (channel.read(buffer) <= 0) {
            selector.select(wait.toMillis());
            selector.selectedKeys().clear();
            if (channel.read(buffer) <= 0) {
                return Optional.empty();
            }
        }
        return Optional.of(java.util.Arrays.copyOf(buffer.array(), buffer.position()));
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
