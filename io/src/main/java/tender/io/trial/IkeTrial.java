package tender.io.trial;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.PortUnreachableException;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;
import tender.core.ike.Identification;
import tender.core.ike.IkeClient;
import tender.core.ike.IkeSettings;
import tender.core.network.Endpoint;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.trial.FirstHosts;
import tender.core.trial.IkeQuestion;
import tender.core.trial.IkeSeen;
import tender.core.trial.Measured;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.Observation;
import tender.core.trial.Observation.Echo;
import tender.core.trial.Observation.Path;
import tender.core.trial.Rung;
import tender.io.names.NameService;

/**
 * Walks the ladder for one IKEv2 profile over sockets of its own, without rights: ports 500 and 4500, the tunnel in UDP. One
 * instance is one trial, run on the calling thread. The server may be silent for {@link #ANSWER_WAIT} at first, later for
 * {@link #SILENCE}, twice that on a line that loses packets; all of it is bounded by {@link #LONGEST} and the waits for
 * echoes.
 */
public final class IkeTrial {
    public static final Duration ANSWER_WAIT = Duration.ofMillis(4_000);
    public static final Duration SILENCE = Duration.ofMillis(5_000);
    public static final Duration LONGEST = Duration.ofSeconds(25);
    /** A server takes its time to say no to a password; one that is left in the middle counts against this vantage. */
    private static final Duration GOODBYE_WAIT = Duration.ofSeconds(3);

    private static final Duration TICK = Duration.ofMillis(50);

    private final IkeQuestion question;
    private final NameService names;
    private final Consumer<Rung> entering;
    private final MeasurementOptions wanted;
    private final SecureRandom random = new SecureRandom();
    private final List<Long> millis = new ArrayList<>();
    private long since = System.nanoTime();
    private Observation.Name name = Observation.Name.LITERAL;
    private Optional<IpAddress> dialled = Optional.empty();
    private Path path = Path.NOT_TRIED;
    private Path natPath = Path.NOT_TRIED;
    private IkeClient session;
    private Optional<Identification> otherwiseNamed = Optional.empty();
    private boolean asksPassword;
    private Wire first;
    private Wire second;
    private Instant heardAt;
    private Instant longest;
    private Optional<Measured> measured = Optional.empty();
    private FirstHosts firstHosts = FirstHosts.NONE;

    /** @param entering told each rung as it begins, for a ladder drawn live */
    public IkeTrial(IkeQuestion question, NameService names, MeasurementOptions wanted, Consumer<Rung> entering) {
        this.question = question;
        this.names = names;
        this.wanted = wanted;
        this.entering = entering;
    }

    /** What was measured beyond the verdict, after {@link #run}. */
    public Optional<Measured> measured() {
        return measured;
    }

    public IkeSeen run() {
        entering.accept(Rung.NAME);
        int port = question.settings().port();
        Dialled found = Dialled.of(new Endpoint(question.server(), new Port(port), Transport.UDP), names);
        name = found.name();
        dialled = found.address();
        lap();
        if (dialled.isEmpty()) {
            return seen(Echo.NOT_TRIED, Echo.NOT_TRIED);
        }
        entering.accept(Rung.ADDRESS);
        boolean one = port != IkeSettings.PORT;
        try (Wire call = Wire.udp(at(port));
                Wire nat = Wire.udp(at(one ? port : IkeSettings.NAT_PORT))) {
            first = one ? nat : call;
            second = nat;
            return connected();
        } catch (IOException e) {
            path = path == Path.NOT_TRIED ? Path.UNREACHABLE : path;
            lap();
            return seen(Echo.NOT_TRIED, Echo.NOT_TRIED);
        }
    }

    private InetSocketAddress at(int port) throws IOException {
        return new InetSocketAddress(
                InetAddress.getByAddress(dialled.orElseThrow().toBytes()), port);
    }

    private IkeSeen connected() throws IOException {
        lap();
        entering.accept(Rung.PORT);
        session = new IkeClient(question.settings(), random);
        longest = Instant.now().plus(LONGEST);
        heardAt = Instant.now();
        path = until(first, ANSWER_WAIT, () -> session.stage() != IkeClient.Stage.CALLING);
        if (path == Path.SILENT && first != second && answersOnNatPort()) {
            natPath = Path.ANSWERED;
        }
        lap();
        entering.accept(Rung.HANDSHAKE);
        lap();
        if (path != Path.ANSWERED || session.stage() == IkeClient.Stage.CALLING) {
            return seen(Echo.NOT_TRIED, Echo.NOT_TRIED);
        }
        session.calledAt(dialled.orElseThrow(), question.settings().port());
        entering.accept(Rung.TRUST);
        heardAt = Instant.now();
        Path trusted = until(second, SILENCE, () -> session.stage().compareTo(IkeClient.Stage.TRUSTED) >= 0);
        if (trusted == Path.REFUSED && (first == second || isRefused(first))) {
            path = Path.REFUSED; // it answered there before
        }
        natPath = trusted == Path.SILENT && first != second && answersOnNatPort() ? Path.ANSWERED : trusted;
        lap();
        entering.accept(Rung.AUTHENTICATION);
        if (trusted == Path.ANSWERED) {
            until(second, SILENCE, () -> session.stage() == IkeClient.Stage.UP);
        }
        lap();
        if (session.stage() != IkeClient.Stage.UP) {
            lookFurther();
            return ended(Echo.NOT_TRIED, Echo.NOT_TRIED);
        }
        entering.accept(Rung.TUNNEL_ADDRESS);
        Tunnel through = tunnel();
        Inside inside = new Inside(through, random);
        Echo gateway = inside.echo(question.gatewayInside());
        lap();
        entering.accept(Rung.ECHO);
        Echo host = inside.echo(question.insideHost());
        FirstHosts asked = question.insideHost().isPresent() || gateway == Echo.ANSWERED
                ? FirstHosts.NONE
                : inside.first(FirstHosts.of(
                        session.reach(),
                        session.assigned().dns(),
                        session.assigned().addresses()));
        lap();
        if (wanted.anything()) {
            measured = Optional.of(new Measuring(through, random)
                    .measure(
                            wanted,
                            host == Echo.ANSWERED ? question.insideHost() : asked.answered(),
                            session.assigned().dns().stream()
                                    .filter(IpAddress::isV4)
                                    .findFirst(),
                            outside -> session.reach().stream().anyMatch(n -> n.contains(outside))));
        }
        firstHosts = asked;
        return ended(gateway, host);
    }

    /** Where the server refuses and says no reason: whether it is the name that the file asks for, or the way of proof. */
    private void lookFurther() throws IOException {
        boolean silentRefusal = session.refused()
                        .filter(r -> r.contains("AUTHENTICATION_FAILED"))
                        .isPresent()
                && session.serverId().isEmpty();
        if (!silentRefusal) {
            return;
        }
        IkeSettings settings = question.settings();
        if (settings.server().isPresent()) {
            otherwiseNamed = asked(settings.askingNobody(question.byPassword())).serverId(); // without a login
        }
        if (otherwiseNamed.isEmpty() && !question.byPassword()) {
            asksPassword = asked(settings.askingNobody(true)).serverId().isPresent();
        }
    }

    /** A session of its own, as far as the server says who it is. */
    private IkeClient asked(IkeSettings settings) throws IOException {
        IkeClient kept = session;
        session = new IkeClient(settings, random);
        try {
            heardAt = Instant.now();
            until(first, ANSWER_WAIT, () -> session.stage() != IkeClient.Stage.CALLING);
            if (session.stage() != IkeClient.Stage.CALLING) {
                session.calledAt(dialled.orElseThrow(), settings.port());
                heardAt = Instant.now();
                until(second, ANSWER_WAIT, () -> session.serverId().isPresent());
            }
            return session;
        } finally {
            session = kept;
        }
    }

    /** Whether nothing more will come of it: it was refused, or what came was wrong. Neither is silence. */
    private boolean isDone() {
        return session.refused().isPresent() || session.broken().isPresent();
    }

    private boolean answersOnNatPort() throws IOException {
        return probed(question.settings().calling(IkeSettings.NAT_PORT), second) == Path.ANSWERED;
    }

    private boolean isRefused(Wire wire) throws IOException {
        return probed(question.settings(), wire) == Path.REFUSED;
    }

    /** What comes of a fresh first message. */
    private Path probed(IkeSettings settings, Wire wire) throws IOException {
        IkeClient probe = new IkeClient(settings, random);
        long end = System.nanoTime() + ANSWER_WAIT.toNanos() / 2;
        try {
            while (System.nanoTime() < end) {
                for (IkeClient.Sent sent : probe.toSend(Instant.now())) {
                    wire.send(sent.bytes());
                }
                Optional<byte[]> in = wire.receive(TICK);
                if (in.isPresent()) {
                    probe.onPacket(in.get(), wire == second);
                    if (probe.stage() != IkeClient.Stage.CALLING
                            || probe.refused().isPresent()) {
                        return Path.ANSWERED;
                    }
                }
            }
        } catch (PortUnreachableException e) {
            return Path.REFUSED;
        }
        return Path.SILENT;
    }

    /** Drives the session until a condition holds, it cannot go on, or time is over. */
    private Path until(Wire from, Duration wait, BooleanSupplier condition) throws IOException {
        try {
            while (!condition.getAsBoolean()) {
                Instant now = Instant.now();
                Instant end = heardAt.plus(
                        session.isLossy() && session.stage() != IkeClient.Stage.CALLING ? wait.multipliedBy(2) : wait);
                if (isDone()) {
                    return Path.ANSWERED;
                }
                if (now.isAfter(end) || now.isAfter(longest)) {
                    return Path.SILENT;
                }
                send();
                receive(from, TICK);
            }
            send();
            return Path.ANSWERED;
        } catch (PortUnreachableException e) {
            return Path.REFUSED;
        }
    }

    private void send() throws IOException {
        for (IkeClient.Sent sent : session.toSend(Instant.now())) {
            (sent.onNatPort() ? second : first).send(sent.bytes());
        }
    }

    private void receive(Wire from, Duration wait) throws IOException {
        Optional<byte[]> packet = from.receive(wait);
        if (packet.isPresent()) {
            heardAt = Instant.now();
            session.onPacket(packet.get(), from == second);
        }
    }

    private Tunnel tunnel() {
        return new Tunnel() {
            @Override
            public Optional<IpAddress> source(IpAddress.Family family) {
                return session.assigned().address(family);
            }

            @Override
            public void send(byte[] packet) throws IOException {
                second.send(session.seal(packet));
            }

            @Override
            public void pump(Duration wait) throws IOException {
                IkeTrial.this.send();
                receive(second, wait);
            }

            @Override
            public Optional<byte[]> received() {
                return session.received();
            }

            @Override
            public boolean isClosed() {
                return session.refused().isPresent();
            }
        };
    }

    private IkeSeen ended(Echo gateway, Echo inside) throws IOException {
        IkeSeen out = seen(gateway, inside);
        long end = System.nanoTime() + GOODBYE_WAIT.toNanos();
        while (session.refused().isPresent() && session.isWaiting() && System.nanoTime() < end) {
            send();
            receive(second, TICK);
        }
        Optional<byte[]> goodbye = session.goodbye();
        if (goodbye.isPresent()) {
            second.send(goodbye.get());
        }
        return out;
    }

    private IkeSeen seen(Echo gateway, Echo inside) {
        boolean spoke = session != null;
        return new IkeSeen(
                name,
                dialled,
                path,
                natPath,
                spoke ? Optional.of(session.stage()) : Optional.empty(),
                spoke ? session.refused() : Optional.empty(),
                spoke ? session.broken() : Optional.empty(),
                spoke ? session.serverChain() : List.of(),
                spoke ? session.serverId() : Optional.empty(),
                otherwiseNamed,
                asksPassword,
                spoke ? session.algorithms() : Optional.empty(),
                spoke && session.serverBehindNat(),
                spoke ? session.assigned().addresses() : List.of(),
                spoke ? session.reach() : List.of(),
                gateway,
                inside,
                firstHosts,
                millis);
    }

    private void lap() {
        long now = System.nanoTime();
        millis.add((now - since) / 1_000_000);
        since = now;
    }
}
