package tender.io.trial;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import org.xbill.DNS.ARecord;
import org.xbill.DNS.DClass;
import org.xbill.DNS.Message;
import org.xbill.DNS.Name;
import org.xbill.DNS.Record;
import org.xbill.DNS.Section;
import org.xbill.DNS.Type;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.trial.Exit;
import tender.core.trial.IcmpEcho;
import tender.core.trial.Measured;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.Stun;
import tender.core.trial.Transfer;
import tender.core.trial.UdpPacket;

/** Measures what a tunnel that carries packets is like: echoes, the largest packet, a name, the exit, a transfer. */
final class Measuring {
    private static final Duration LAST_WAIT = Duration.ofSeconds(1);
    private static final int SMALLEST_PACKET = 576;
    private static final int LARGEST_PACKET = 1_500;
    private static final int DNS_PORT = 53;
    private static final int ECHO_PORT = 7;
    private static final int TRANSFER_PAYLOAD = 1_200;
    private static final int TRANSFER_PACKETS = 800;
    private static final Duration TRANSFER_LONGEST = Duration.ofSeconds(3);

    private final Inside inside;
    private final Tunnel tunnel;
    private final SecureRandom random;

    Measuring(Tunnel tunnel, SecureRandom random) {
        this.inside = new Inside(tunnel, random);
        this.tunnel = tunnel;
        this.random = random;
    }

    /**
     * Measures.
     *
     * @param host one that answered before; without one, what needs it is left out
     * @param sent which addresses the profile sends through the tunnel
     */
    Measured measure(
            MeasurementOptions wanted, Optional<IpAddress> host, Optional<IpAddress> dns, Predicate<IpAddress> sent)
            throws IOException {
        List<Double> millis = new ArrayList<>();
        if (wanted.echoes() > 0 && host.isPresent()) {
            echoes(wanted.echoes(), host.get(), millis);
        }
        Optional<Integer> largest = wanted.size() && host.isPresent() ? largest(host.get()) : Optional.empty();
        Optional<Measured.InsideName> name = wanted.insideName().isPresent() && dns.isPresent()
                ? Optional.of(name(wanted.insideName().get(), dns.get()))
                : Optional.empty();
        Optional<Exit> exit = wanted.outside().isPresent()
                ? Optional.of(
                        exit(wanted.outside().get(), sent.test(wanted.outside().get())))
                : Optional.empty();
        Optional<Transfer> transfer = wanted.transfer() && host.isPresent() ? transfer(host.get()) : Optional.empty();
        return new Measured(millis, host.isPresent() ? wanted.echoes() : 0, largest, name, exit, transfer);
    }

    private void echoes(int count, IpAddress host, List<Double> millis) throws IOException {
        IpAddress source = tunnel.source(host.family()).orElseThrow();
        byte[] payload = inside.bytes(Inside.PAYLOAD_BYTES);
        int identifier = random.nextInt(65_536);
        Map<Integer, Long> sentAt = new HashMap<>();
        long next = System.nanoTime();
        long end = Long.MAX_VALUE;
        while ((sentAt.size() > 0 || millis.size() < count) && System.nanoTime() < end && !tunnel.isClosed()) {
            int sent = sentAt.size() + millis.size();
            if (sent < count && System.nanoTime() >= next) {
                sentAt.put(sent, System.nanoTime());
                tunnel.send(new IcmpEcho(source, host, false, identifier, sent, payload).encode());
                next = System.nanoTime() + Inside.PACE.toNanos();
                end = System.nanoTime() + LAST_WAIT.toNanos();
            }
            tunnel.pump(Inside.PACE);
            for (Optional<byte[]> in = tunnel.received(); in.isPresent(); in = tunnel.received()) {
                Inside.reply(in.get(), identifier, host, payload)
                        .map(e -> sentAt.remove(e.sequence()))
                        .ifPresent(at -> millis.add((System.nanoTime() - at) / 1e6));
            }
        }
    }

    /** The largest inside packet that comes back; two tries for each size, since one may get lost. */
    private Optional<Integer> largest(IpAddress host) throws IOException {
        if (!passes(host, SMALLEST_PACKET)) {
            return Optional.empty();
        }
        if (passes(host, LARGEST_PACKET)) {
            return Optional.of(LARGEST_PACKET);
        }
        int low = SMALLEST_PACKET;
        int high = LARGEST_PACKET;
        while (high - low > 1) {
            int middle = (low + high) / 2;
            if (passes(host, middle)) {
                low = middle;
            } else {
                high = middle;
            }
        }
        return Optional.of(low);
    }

    private boolean passes(IpAddress host, int packetBytes) throws IOException {
        IpAddress source = tunnel.source(host.family()).orElseThrow();
        byte[] payload = inside.bytes(packetBytes - (host.isV4() ? 28 : 48));
        int identifier = random.nextInt(65_536);
        for (int i = 0; i < 2; i++) {
            byte[] packet = new IcmpEcho(source, host, false, identifier, i, payload).encode();
            try {
                tunnel.send(packet);
            } catch (IOException e) {
                return false; // larger than this machine's own line takes
            }
            if (inside.await(in -> Inside.reply(in, identifier, host, payload), Inside.SIZE_WAIT)
                    .isPresent()) {
                return true;
            }
        }
        return false;
    }

    private Measured.InsideName name(HostName name, IpAddress dns) throws IOException {
        Message question = Message.newQuery(Record.newRecord(Name.fromString(name.text() + "."), Type.A, DClass.IN));
        Optional<byte[]> answer = inside.ask(dns, DNS_PORT, question.toWire());
        Optional<IpAddress> address = Optional.empty();
        if (answer.isPresent()) {
            try {
                Message told = new Message(answer.get());
                if (told.getHeader().getID() == question.getHeader().getID()) {
                    address = told.getSection(Section.ANSWER).stream()
                            .filter(ARecord.class::isInstance)
                            .map(r ->
                                    IpAddress.ofBytes(((ARecord) r).getAddress().getAddress()))
                            .findFirst();
                }
            } catch (IOException e) {
                address = Optional.empty(); // no answer that a resolver would take
            }
        }
        return new Measured.InsideName(name.text(), dns, answer.isPresent(), address);
    }

    private Exit exit(IpAddress outside, boolean full) throws IOException {
        byte[] id = inside.bytes(12);
        Optional<IpAddress> through = full
                ? inside.ask(outside, Stun.PORT, Stun.request(id)).flatMap(a -> Stun.seen(a, id))
                : Optional.empty();
        return new Exit(full, direct(outside), through);
    }

    /** What the outside sees of this machine without the tunnel; asked again once. */
    private Optional<IpAddress> direct(IpAddress outside) throws IOException {
        byte[] id = inside.bytes(12);
        try (Wire wire = Wire.udp(new InetSocketAddress(InetAddress.getByAddress(outside.toBytes()), Stun.PORT))) {
            for (int i = 0; i < 2; i++) {
                wire.send(Stun.request(id));
                Optional<IpAddress> seen = wire.receive(Inside.ANSWER_WAIT).flatMap(a -> Stun.seen(a, id));
                if (seen.isPresent()) {
                    return seen;
                }
            }
        } catch (IOException e) {
            return Optional.empty(); // no way there, or nobody listens
        }
        return Optional.empty();
    }

    /** Sends datagrams to a host that gives back what it gets (RFC 862), some at once, bounded in number and time. */
    private Optional<Transfer> transfer(IpAddress host) throws IOException {
        Optional<IpAddress> source = tunnel.source(IpAddress.Family.V4);
        if (source.isEmpty()
                || !host.isV4()
                || inside.ask(host, ECHO_PORT, inside.bytes(Inside.PAYLOAD_BYTES))
                        .isEmpty()) {
            return Optional.empty();
        }
        int own = 49_152 + random.nextInt(16_000);
        byte[] packet = new UdpPacket(source.get(), own, host, ECHO_PORT, inside.bytes(TRANSFER_PAYLOAD)).encode();
        long began = System.nanoTime();
        long end = began + TRANSFER_LONGEST.toNanos();
        long heard = began;
        int sent = 0;
        int back = 0;
        int underWay = 0;
        while (back < TRANSFER_PACKETS && System.nanoTime() < end && !tunnel.isClosed()) {
            while (underWay < Inside.AT_ONCE && sent < 2 * TRANSFER_PACKETS) {
                tunnel.send(packet);
                sent++;
                underWay++;
            }
            tunnel.pump(Inside.PACE);
            for (Optional<byte[]> in = tunnel.received(); in.isPresent(); in = tunnel.received()) {
                boolean ours = UdpPacket.decode(in.get())
                        .filter(p -> p.targetPort() == own && p.payload().length == TRANSFER_PAYLOAD)
                        .isPresent();
                if (ours) {
                    back++;
                    underWay = Math.max(0, underWay - 1);
                    heard = System.nanoTime();
                }
            }
            if (System.nanoTime() - heard > Inside.SIZE_WAIT.toNanos()) {
                underWay = 0; // those got lost
                heard = System.nanoTime();
            }
        }
        return Optional.of(new Transfer((long) back * packet.length, (System.nanoTime() - began) / 1e6));
    }
}
