package tender.io.trial;

import java.io.IOException;
import java.net.ConnectException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.PortUnreachableException;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Vector;
import org.bouncycastle.tls.CertificateRequest;
import org.bouncycastle.tls.DefaultTlsClient;
import org.bouncycastle.tls.ProtocolVersion;
import org.bouncycastle.tls.ServerName;
import org.bouncycastle.tls.TlsAuthentication;
import org.bouncycastle.tls.TlsClientProtocol;
import org.bouncycastle.tls.TlsCredentials;
import org.bouncycastle.tls.TlsServerCertificate;
import org.bouncycastle.tls.crypto.TlsCertificate;
import org.bouncycastle.tls.crypto.impl.bc.BcTlsCrypto;
import tender.core.ike.MainModeProbe;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.trial.Observation.Path;
import tender.core.trial.ProbeSeen;
import tender.core.trial.ReachabilityProbe;
import tender.io.names.NameService;

/** Probes a listener over a socket of its own, without rights. Silence is waited for {@link #ANSWER_WAIT}. */
public final class ProbeTrial {
    public static final Duration ANSWER_WAIT = Duration.ofMillis(4_000);
    private static final Duration SECOND_WAIT = Duration.ofMillis(1_500);
    private static final int NAT_PORT = 4_500;
    /** Before a message of IKE on the port for NAT, so that it is not taken for data (RFC 3948 2.2). */
    private static final int MARKER_BYTES = 4;

    private static final Duration AGAIN = Duration.ofMillis(700);
    private static final Duration TICK = Duration.ofMillis(100);
    private static final List<ProtocolVersion> VERSIONS =
            List.of(ProtocolVersion.TLSv13, ProtocolVersion.TLSv12, ProtocolVersion.TLSv11, ProtocolVersion.TLSv10);

    private final ReachabilityProbe probe;
    private final NameService names;
    private final SecureRandom random = new SecureRandom();
    private final List<Long> millis = new ArrayList<>();
    private final List<String> versions = new ArrayList<>();
    private List<byte[]> chain = List.of();
    private Optional<String> answer = Optional.empty();
    private long since = System.nanoTime();

    public ProbeTrial(ReachabilityProbe probe, NameService names) {
        this.probe = probe;
        this.names = names;
    }

    public ProbeSeen run() {
        Dialled found = Dialled.of(probe.at(), names);
        lap();
        Path path = found.address().isEmpty()
                ? Path.NOT_TRIED
                : probed(found.address().get());
        lap();
        return new ProbeSeen(found.name(), found.address(), path, answer, versions, chain, millis);
    }

    private Path probed(IpAddress address) {
        try {
            InetSocketAddress to = new InetSocketAddress(
                    InetAddress.getByAddress(address.toBytes()),
                    probe.at().port().number());
            lap();
            return probe.kind() == ReachabilityProbe.Kind.TLS ? tls(to) : oldIke(to);
        } catch (PortUnreachableException | ConnectException e) {
            return Path.REFUSED;
        } catch (SocketTimeoutException e) {
            return Path.SILENT;
        } catch (IOException e) {
            return Path.UNREACHABLE;
        }
    }

    private Path oldIke(InetSocketAddress to) throws IOException {
        Optional<MainModeProbe.Answer> said = asked(to, 0, ANSWER_WAIT);
        if (said.isEmpty()) {
            return Path.SILENT;
        }
        boolean both = asked(new InetSocketAddress(to.getAddress(), NAT_PORT), MARKER_BYTES, SECOND_WAIT)
                .isPresent();
        answer = Optional.of(said.get()
                        .taken()
                        .map(t -> "it answers and takes " + t)
                        .orElse("it answers, and takes nothing that built-in clients offer")
                + (both
                        ? "; udp " + NAT_PORT + " answers too"
                        : "; udp " + NAT_PORT + " is silent to a stranger, which says nothing either way"));
        return Path.ANSWERED;
    }

    private Optional<MainModeProbe.Answer> asked(InetSocketAddress to, int marker, Duration wait) throws IOException {
        MainModeProbe message = new MainModeProbe(random);
        byte[] request = message.request();
        byte[] marked = Arrays.copyOfRange(request, 0, request.length + marker);
        System.arraycopy(request, 0, marked, marker, request.length);
        Arrays.fill(marked, 0, marker, (byte) 0);
        try (Wire wire = Wire.udp(to)) {
            if (marker == 0) {
                lap();
            }
            long end = System.nanoTime() + wait.toNanos();
            long nextSend = System.nanoTime();
            while (System.nanoTime() < end) {
                if (System.nanoTime() >= nextSend) {
                    wire.send(marked);
                    nextSend = System.nanoTime() + AGAIN.toNanos(); // whatever comes makes nothing go out
                }
                Optional<MainModeProbe.Answer> said = wire.receive(TICK)
                        .filter(in -> in.length > marker)
                        .flatMap(in -> message.read(Arrays.copyOfRange(in, marker, in.length)));
                if (said.isPresent()) {
                    return said;
                }
            }
        } catch (PortUnreachableException e) {
            if (marker == 0) {
                throw e; // the second port alone says nothing of the first
            }
        }
        return Optional.empty();
    }

    private Path tls(InetSocketAddress to) throws IOException {
        long end = System.nanoTime() + ANSWER_WAIT.toNanos();
        for (ProtocolVersion version : VERSIONS) {
            try (Socket socket = new Socket()) {
                socket.connect(to, (int) ANSWER_WAIT.toMillis());
                if (version == VERSIONS.get(0)) {
                    lap();
                    end = System.nanoTime() + ANSWER_WAIT.toNanos();
                }
                handshake(socket, version, end);
            }
        }
        if (!versions.isEmpty()) {
            answer = Optional.of(String.join(", ", versions)
                    + (versions.stream().anyMatch(v -> v.endsWith("1.0") || v.endsWith("1.1"))
                            ? "; versions before 1.2 are broken: switch them off"
                            : ""));
        }
        return Path.ANSWERED;
    }

    /** Whether a handshake of exactly this version comes about; the certificate is looked at, not believed. */
    private void handshake(Socket socket, ProtocolVersion version, long end) {
        try {
            TlsClientProtocol protocol =
                    new TlsClientProtocol(new BoundedAnswer(socket, end), socket.getOutputStream());
            protocol.connect(new Caller(version));
            versions.add(version.toString());
            protocol.close();
        } catch (IOException | RuntimeException e) {
            return; // this version is not spoken there
        }
    }

    private final class Caller extends DefaultTlsClient {
        private final ProtocolVersion version;

        private Caller(ProtocolVersion version) {
            super(new BcTlsCrypto(random));
            this.version = version;
        }

        @Override
        protected ProtocolVersion[] getSupportedVersions() {
            return new ProtocolVersion[] {version};
        }

        @Override
        @SuppressWarnings("rawtypes") // the library's own signature
        protected Vector getSNIServerNames() {
            Vector<ServerName> out = new Vector<>();
            if (probe.at().host() instanceof HostName name) {
                out.add(new ServerName((short) 0, name.text().getBytes(StandardCharsets.US_ASCII)));
            }
            return out.isEmpty() ? null : out;
        }

        @Override
        public TlsAuthentication getAuthentication() {
            return new TlsAuthentication() {
                @Override
                public void notifyServerCertificate(TlsServerCertificate server) throws IOException {
                    List<byte[]> shown = new ArrayList<>();
                    for (TlsCertificate c : server.getCertificate().getCertificateList()) {
                        shown.add(c.getEncoded());
                    }
                    if (chain.isEmpty()) {
                        chain = List.copyOf(shown);
                    }
                }

                @Override
                public TlsCredentials getClientCredentials(CertificateRequest request) {
                    return null;
                }
            };
        }
    }

    private void lap() {
        long now = System.nanoTime();
        millis.add((now - since) / 1_000_000);
        since = now;
    }
}
