package tender.standins.caller;

import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.SocketTimeoutException;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import tender.core.network.IpAddress;
import tender.core.profile.WireGuardFile;
import tender.core.trial.IcmpEcho;
import tender.core.trial.Question;
import tender.core.wireguard.Initiator;

/** Keeps a tunnel up with a client's file and sends an echo to an inside host now and then, as a working phone would. */
public final class Caller implements AutoCloseable {
    private static final int WAIT_MILLIS = 500;
    private static final int MAX_PACKET = 2_048;

    private final Question question;
    private final InetSocketAddress gateway;
    private final Duration every;
    private final DatagramSocket socket;
    private volatile int answered;

    /** @param gateway where the endpoint's name leads; callers are told, since they have no resolver of their own */
    public Caller(WireGuardFile file, InetAddress gateway, IpAddress target, Duration every) throws IOException {
        this.question = Question.of(file, java.util.Optional.empty(), java.util.Optional.of(target));
        this.gateway = new InetSocketAddress(gateway, question.endpoint().port().number());
        this.every = every;
        this.socket = new DatagramSocket();
        Thread thread = new Thread(this::run, "caller");
        thread.setDaemon(true);
        thread.start();
    }

    /** How many echoes came back. */
    public int answered() {
        return answered;
    }

    private void run() {
        try {
            socket.setSoTimeout(WAIT_MILLIS);
            Initiator initiator = new Initiator(
                    question.own(),
                    question.gatewayKey(),
                    question.presharedKey(),
                    Initiator.RETRY_AFTER,
                    new SecureRandom());
            send(initiator.start(Instant.now()).bytes());
            Instant next = Instant.now();
            int sequence = 0;
            while (!socket.isClosed()) {
                receive(initiator);
                Initiator.Event tick = initiator.onTick(Instant.now());
                if (tick.kind() == Initiator.Kind.SENT_INITIATION) {
                    send(tick.bytes());
                }
                if (initiator.isEstablished() && Instant.now().isAfter(next)) {
                    IpAddress from = question.source(IpAddress.Family.V4).orElseThrow();
                    IpAddress to = question.insideHost().orElseThrow();
                    send(initiator.seal(new IcmpEcho(from, to, false, 1, sequence++, new byte[56]).encode()));
                    next = Instant.now().plus(every);
                }
            }
        } catch (IOException e) {
            // the socket was closed: the device went away
        }
    }

    private void receive(Initiator initiator) throws IOException {
        byte[] buffer = new byte[MAX_PACKET];
        DatagramPacket packet = new DatagramPacket(buffer, buffer.length);
        try {
            socket.receive(packet);
        } catch (SocketTimeoutException e) {
            return;
        }
        Initiator.Event event = initiator.onDatagram(Arrays.copyOf(buffer, packet.getLength()), Instant.now());
        if (event.kind() == Initiator.Kind.RECEIVED
                && IcmpEcho.decode(event.bytes()).filter(IcmpEcho::reply).isPresent()) {
            answered++;
        }
    }

    private void send(byte[] data) throws IOException {
        socket.send(new DatagramPacket(data, data.length, gateway));
    }

    @Override
    public void close() {
        socket.close();
    }
}
