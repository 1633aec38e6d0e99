package tender.io.trial;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.PortUnreachableException;
import java.net.UnknownHostException;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import tender.core.network.IpAddress;
import tender.core.network.Transport;
import tender.core.openvpn.ClientSession;
import tender.core.openvpn.Pushed;
import tender.core.trial.Measured;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.Observation;
import tender.core.trial.Observation.Echo;
import tender.core.trial.OpenVpnQuestion;
import tender.core.trial.OpenVpnSeen;
import tender.core.trial.OpenVpnSeen.Stage;
import tender.core.trial.Otherwise;
import tender.core.trial.Proxy;
import tender.core.trial.Rung;
import tender.io.names.NameService;

/**
 * Walks the ladder for one OpenVPN profile over a socket of its own, without rights. One instance is one trial, run on the
 * calling thread. The server may be silent for {@link #ANSWER_WAIT} at first, later for {@link #SILENCE}, or twice that on a
 * line that loses packets; all of it is bounded by {@link #LONGEST} and the waits for
 * echoes.
 */
public final class OpenVpnTrial {
    public static final Duration ANSWER_WAIT = Duration.ofMillis(4_000);
    public static final Duration SILENCE = Duration.ofMillis(5_000);
    public static final Duration LONGEST = Duration.ofSeconds(25);
    private static final Duration TICK = Duration.ofMillis(100);

    private final OpenVpnQuestion question;
    private final NameService names;
    private final MeasurementOptions wanted;
    private final Consumer<Rung> entering;
    private final SecureRandom random = new SecureRandom();
    private final List<Long> millis = new ArrayList<>();
    private long since = System.nanoTime();
    private Observation.Name name = Observation.Name.LITERAL;
    private Optional<IpAddress> dialled = Optional.empty();
    private Observation.Path path = Observation.Path.NOT_TRIED;
    private Optional<String> proxySays = Optional.empty();
    private boolean called;
    private boolean closed;
    private ClientSession session;
    private Instant heardAt;
    private Instant longest;
    private Optional<Measured> measured = Optional.empty();
    private Optional<Otherwise> otherwise = Optional.empty();

    /** @param entering told each rung as it begins, for a ladder drawn live */
    public OpenVpnTrial(
            OpenVpnQuestion question, NameService names, MeasurementOptions wanted, Consumer<Rung> entering) {
        this.question = question;
        this.names = names;
        this.wanted = wanted;
        this.entering = entering;
    }

    /** What was measured beyond the verdict, after {@link #run}. */
    public Optional<Measured> measured() {
        return measured;
    }

    public OpenVpnSeen run() {
        entering.accept(Rung.NAME);
        Dialled found = Dialled.of(question.firstHop(), names);
        name = found.name();
        dialled = found.address();
        lap();
        if (dialled.isEmpty()) {
            return seen(Echo.NOT_TRIED, Echo.NOT_TRIED);
        }
        entering.accept(Rung.ADDRESS);
        try (Wire wire = open()) {
            called = true;
            return connected(wire);
        } catch (PortUnreachableException e) {
            closed = path == Observation.Path.ANSWERED; // then it is the server that went away
            path = closed ? path : Observation.Path.REFUSED;
        } catch (java.net.ConnectException e) {
            path = Observation.Path.REFUSED;
        } catch (java.net.SocketTimeoutException e) {
            path = Observation.Path.SILENT;
        } catch (ProxyWay.Refused e) {
            path = Observation.Path.REFUSED;
            proxySays = Optional.of(e.getMessage());
        } catch (IOException e) {
            if (!called) {
                path = Observation.Path.UNREACHABLE;
            } else {
                closed = true;
            }
        }
        lap();
        lap();
        lookFurther();
        return seen(Echo.NOT_TRIED, Echo.NOT_TRIED);
    }

    /** Where nobody answered: what else the file could have meant. Through a proxy nothing else can be called. */
    private void lookFurther() {
        boolean silent = session == null || session.stage() == ClientSession.Stage.CALLING;
        if (!silent || question.proxy().isPresent() || path == Observation.Path.UNREACHABLE) {
            return;
        }
        boolean taken = path == Observation.Path.ANSWERED;
        otherwise = OtherWaysTrial.run(question.settings(), place(), taken, random);
    }

    private InetSocketAddress place() {
        try {
            return new InetSocketAddress(
                    InetAddress.getByAddress(dialled.orElseThrow().toBytes()),
                    question.firstHop().port().number());
        } catch (UnknownHostException e) {
            throw new IllegalStateException("an address has four or sixteen bytes", e);
        }
    }

    private Wire open() throws IOException {
        InetSocketAddress to = place();
        boolean tcp = question.endpoint().transport() == Transport.TCP;
        if (question.proxy().isPresent()) {
            Proxy proxy = question.proxy().get();
            if (!tcp && proxy.kind() == Proxy.Kind.HTTP) {
                throw new ProxyWay.Refused("an HTTP proxy carries no UDP");
            }
            return tcp
                    ? Wire.tcpThrough(proxy, question.endpoint(), to, ANSWER_WAIT)
                    : Wire.udpThrough(proxy, question.endpoint(), to, ANSWER_WAIT);
        }
        return tcp ? Wire.tcp(to, ANSWER_WAIT) : Wire.udp(to);
    }

    private OpenVpnSeen connected(Wire wire) throws IOException {
        lap();
        entering.accept(Rung.PORT);
        if (question.endpoint().transport() == Transport.TCP) {
            path = Observation.Path.ANSWERED;
        }
        session = new ClientSession(question.settings(), random);
        heardAt = Instant.now();
        longest = heardAt.plus(LONGEST);
        boolean answered = until(wire, ANSWER_WAIT, () -> session.stage() != ClientSession.Stage.CALLING);
        if (answered) {
            path = Observation.Path.ANSWERED;
        } else if (path != Observation.Path.ANSWERED) {
            path = Observation.Path.SILENT;
        }
        lap();
        entering.accept(Rung.HANDSHAKE);
        lap();
        if (!answered) {
            lookFurther();
            return seen(Echo.NOT_TRIED, Echo.NOT_TRIED);
        }
        entering.accept(Rung.TRUST);
        until(wire, SILENCE, () -> session.stage().compareTo(ClientSession.Stage.TRUSTED) >= 0);
        lap();
        entering.accept(Rung.AUTHENTICATION);
        boolean up = session.stage().compareTo(ClientSession.Stage.TRUSTED) >= 0
                && until(wire, SILENCE, () -> session.stage().compareTo(wholly()) >= 0)
                && session.stage() == ClientSession.Stage.UP;
        lap();
        if (!up) {
            return seen(Echo.NOT_TRIED, Echo.NOT_TRIED);
        }
        entering.accept(Rung.TUNNEL_ADDRESS);
        boolean packets = !session.isBridged() && !question.bridges();
        Tunnel through = tunnel(wire);
        Inside inside = new Inside(through, random);
        Echo gateway = packets ? inside.echo(session.pushed().gateway()) : Echo.NOT_TRIED;
        lap();
        entering.accept(Rung.ECHO);
        Echo host = packets ? inside.echo(question.insideHost()) : Echo.NOT_TRIED;
        lap();
        if (packets && wanted.anything()) {
            measured = Optional.of(new Measuring(through, random)
                    .measure(
                            wanted,
                            question.insideHost().filter(h -> host == Echo.ANSWERED),
                            question.nameServer(session.pushed()),
                            outside -> question.reaches(outside, session.pushed())));
        }
        Optional<byte[]> goodbye = session.goodbye();
        if (goodbye.isPresent()) {
            wire.send(goodbye.get());
        }
        return seen(gateway, host);
    }

    /** How far a connection comes at all: a file that does not pull asks the server for nothing more. */
    private ClientSession.Stage wholly() {
        return question.settings().pull().pulls() ? ClientSession.Stage.UP : ClientSession.Stage.EXCHANGED;
    }

    private interface Condition {
        boolean asClaimed();
    }

    /** Drives the session until a condition holds, it cannot go on, or time is over. */
    private boolean until(Wire wire, Duration wait, Condition condition) throws IOException {
        while (!condition.asClaimed()) {
            Instant now = Instant.now();
            Instant end = heardAt.plus(session.isLossy() ? wait.multipliedBy(2) : wait);
            boolean over = now.isAfter(end) || now.isAfter(longest);
            if (over
                    || closed
                    || session.broken().isPresent()
                    || session.refused().isPresent()) {
                return false;
            }
            for (byte[] packet : session.toSend(now)) {
                wire.send(packet);
            }
            receive(wire, TICK);
        }
        for (byte[] packet : session.toSend(Instant.now())) {
            wire.send(packet);
        }
        return true;
    }

    private void receive(Wire wire, Duration wait) throws IOException {
        Optional<byte[]> packet = wire.receive(wait);
        if (packet.isPresent()) {
            heardAt = Instant.now();
            session.onPacket(packet.get(), heardAt);
        }
        closed |= wire.isClosed();
    }

    private Tunnel tunnel(Wire wire) {
        return new Tunnel() {
            @Override
            public Optional<IpAddress> source(IpAddress.Family family) {
                return session.pushed().address(family);
            }

            @Override
            public void send(byte[] packet) throws IOException {
                wire.send(session.seal(packet));
            }

            @Override
            public void pump(Duration wait) throws IOException {
                for (byte[] packet : session.toSend(Instant.now())) {
                    wire.send(packet);
                }
                receive(wire, wait);
            }

            @Override
            public Optional<byte[]> received() {
                return session.received();
            }

            @Override
            public boolean isClosed() {
                return closed;
            }
        };
    }

    private OpenVpnSeen seen(Echo gateway, Echo inside) {
        boolean spoke = session != null;
        return new OpenVpnSeen(
                name,
                dialled,
                path,
                spoke ? Stage.valueOf(session.stage().name()) : Stage.NOT_CALLED,
                proxySays,
                closed,
                spoke ? session.broken() : Optional.empty(),
                spoke ? session.refused() : Optional.empty(),
                spoke ? session.serverChain() : List.of(),
                spoke && session.wasAskedForCertificate(),
                spoke ? session.tlsVersion() : Optional.empty(),
                spoke ? session.cipher() : Optional.empty(),
                spoke ? session.serverDigest() : Optional.empty(),
                spoke ? session.pushed().address() : Optional.empty(),
                spoke ? session.pushed().gateway() : Optional.empty(),
                spoke ? session.pushed() : Pushed.NOTHING,
                gateway,
                inside,
                millis,
                spoke && session.isBridged(),
                otherwise,
                List.of());
    }

    private void lap() {
        long now = System.nanoTime();
        millis.add((now - since) / 1_000_000);
        since = now;
    }
}
