package tender.io.gateway;

import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.SocketAddress;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.apache.sshd.client.SshClient;
import org.apache.sshd.client.auth.keyboard.UserAuthKeyboardInteractiveFactory;
import org.apache.sshd.client.auth.keyboard.UserInteraction;
import org.apache.sshd.client.auth.password.UserAuthPasswordFactory;
import org.apache.sshd.client.auth.pubkey.UserAuthPublicKeyFactory;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.common.util.net.SshdSocketAddress;
import org.apache.sshd.core.CoreModuleProperties;
import tender.core.credential.RevealSecret;
import tender.core.network.Host;
import tender.core.network.Port;
import tender.io.names.NameService;

/**
 * Manages gateways over SSH and SFTP. Safe for several threads. A signed-in connection is kept for the next call to the
 * same target and dropped when it fails or the device closes it.
 */
public final class SshConnector implements Connector {
    private static final Duration CONNECT_TIMEOUT = Duration.ofSeconds(8);
    private static final Duration SIGN_IN_TIMEOUT = Duration.ofSeconds(10);
    private static final Duration IDLE_TIMEOUT = Duration.ofMinutes(2);

    private final NameService names;
    private final CallableAddresses callable;
    private final Map<String, SshClient> clients = new ConcurrentHashMap<>();
    private final Map<Place, ClientSession> kept = new ConcurrentHashMap<>();
    private final Map<Place, Object> signingIn = new ConcurrentHashMap<>();

    public SshConnector(NameService names, CallableAddresses callable) {
        this.names = names;
        this.callable = callable;
    }

    /** One for each type of host key, so that a device with several shows the one that was accepted. */
    private SshClient client(Optional<String> type) {
        return clients.computeIfAbsent(type.orElse(""), t -> {
            SshClient client = SshClient.setUpDefaultClient();
            client.setServerKeyVerifier((session, address, key) -> {
                Identity expected = session.getConnectionContext().getAttribute(Identity.EXPECTED);
                return expected != null && expected.check(HostKeys.told(key));
            });
            CoreModuleProperties.IDLE_TIMEOUT.set(client, IDLE_TIMEOUT);
            client.setClientIdentityLoader(org.apache.sshd.client.config.keys.ClientIdentityLoader.DEFAULT);
            client.setKeyIdentityProvider(org.apache.sshd.common.keyprovider.KeyIdentityProvider.EMPTY_KEYS_PROVIDER);
            client.setHostConfigEntryResolver(org.apache.sshd.client.config.hosts.HostConfigEntryResolver.EMPTY);
            client.setUserInteraction(UserInteraction.NONE);
            // one's own key may be of any type, whatever type of host key is asked for
            client.setUserAuthFactories(List.of(
                    new UserAuthPublicKeyFactory(List.copyOf(client.getSignatureFactories())),
                    UserAuthKeyboardInteractiveFactory.INSTANCE,
                    UserAuthPasswordFactory.INSTANCE));
            type.ifPresent(only -> client.setSignatureFactories(client.getSignatureFactories().stream()
                    .filter(f -> HostKeys.type(f.getName()).filter(only::equals).isPresent())
                    .toList()));
            client.start();
            return client;
        });
    }

    @Override
    public String identity(Target target) {
        return shown(target, Optional.empty()).orElseThrow(() -> unreachable(target, null));
    }

    @Override
    public Optional<String> showing(Target target, String fingerprint) {
        String first = identity(target);
        if (HostKeys.isSame(first, fingerprint)) {
            return Optional.of(first);
        }
        return HostKeys.TYPES.stream()
                .filter(type -> !HostKeys.typeOf(first).equals(Optional.of(type)))
                .flatMap(type -> shown(target, Optional.of(type)).stream())
                .filter(other -> HostKeys.isSame(other, fingerprint))
                .findFirst();
    }

    /** The host key of that type; empty where the device has none of it. */
    private Optional<String> shown(Target target, Optional<String> type) {
        Identity any = new Identity(Optional.empty());
        try (ClientSession session = connect(target, any, type)) {
            session.auth().verify(SIGN_IN_TIMEOUT);
        } catch (IOException e) {
            // signing in is not meant to succeed here; the key was shown before it
        }
        return any.shown();
    }

    /** What two calls have in common that can share a connection: where, as whom and with what. */
    private record Place(
            Host host, Port port, String user, SignIn signIn, Optional<String> identity, Optional<Place> jump) {
        static Place of(Target t) {
            return new Place(
                    t.host(),
                    t.port(),
                    t.user(),
                    t.signIn(),
                    t.identity(),
                    t.jump().map(Place::of));
        }
    }

    @Override
    public void drop(Target target) {
        ClientSession session = kept.remove(Place.of(target));
        if (session != null) {
            session.close(true);
        }
    }

    @Override
    public ManagementConnection open(Target target) {
        return new SshConnection(
                signedIn(target), target.description(), target.host().toString(), target.readOnly());
    }

    private ClientSession signedIn(Target target) {
        Place place = Place.of(target);
        // one sign-in at a time for a target: a second would close the first under whoever uses it
        synchronized (signingIn.computeIfAbsent(place, p -> new Object())) {
            ClientSession session = kept.get(place);
            if (session == null || !session.isOpen() || !session.isAuthenticated()) {
                session = signIn(target);
                kept.put(place, session);
            }
            return session;
        }
    }

    @Override
    public void tryOut(Target target) {
        signIn(target).close(true);
    }

    private ClientSession signIn(Target target) {
        Identity expected = new Identity(target.identity());
        ClientSession session = connect(target, expected, target.identity().flatMap(HostKeys::typeOf));
        try {
            if (target.signIn().method() == SignIn.Method.PASSWORD) {
                String password = target.signIn().secret().revealText(RevealSecret.TO_SIGN_IN);
                session.addPasswordIdentity(password);
                session.setUserInteraction(new PasswordAnswer(password));
            } else {
                session.addPublicKeyIdentity(SshKeys.pair(target.signIn().secret()));
            }
            session.auth().verify(SIGN_IN_TIMEOUT);
            return session;
        } catch (IOException e) {
            session.close(true);
            if (expected.isOther()) {
                throw new GatewayFailure(
                        GatewayFailure.Kind.IDENTITY_CHANGED,
                        target.host() + " shows another host key than the accepted one: "
                                + expected.shown().orElse(""),
                        e);
            }
            throw new GatewayFailure(
                    GatewayFailure.Kind.REFUSED,
                    target.host() + " refuses the sign-in of " + target.user() + " with this "
                            + target.signIn().method().word(),
                    e);
        } catch (RuntimeException e) {
            session.close(true);
            throw e;
        }
    }

    private ClientSession connect(Target target, Identity expected, Optional<String> type) {
        if (target.jump().isPresent()) {
            return throughJump(target, target.jump().get(), expected, type);
        }
        InetSocketAddress address = callable.resolve(names, target);
        return connect(target, address, expected, type);
    }

    /** Over a port on loopback that the jump host's session forwards for as long as the connection stands. */
    private ClientSession throughJump(Target target, Target jump, Identity expected, Optional<String> type) {
        ClientSession over = signedIn(jump);
        SshdSocketAddress bound;
        try {
            bound = over.startLocalPortForwarding(
                    new SshdSocketAddress(SshdSocketAddress.LOCALHOST_IPV4, 0),
                    new SshdSocketAddress(
                            target.host().toString(), target.port().number()));
        } catch (IOException e) {
            throw unreachable(target, e);
        }
        try {
            ClientSession session = connect(target, bound.toInetSocketAddress(), expected, type);
            session.addCloseFutureListener(closed -> stop(over, bound));
            return session;
        } catch (RuntimeException e) {
            stop(over, bound);
            throw e;
        }
    }

    private static void stop(ClientSession over, SshdSocketAddress bound) {
        try {
            over.stopLocalPortForwarding(bound);
        } catch (IOException e) {
            // the jump host's session is closed, and the port with it
        }
    }

    private ClientSession connect(Target target, InetSocketAddress address, Identity expected, Optional<String> type) {
        try {
            return client(type)
                    .connect(target.user(), (SocketAddress) address, expected.context(), null)
                    .verify(CONNECT_TIMEOUT)
                    .getClientSession();
        } catch (IOException e) {
            throw unreachable(target, e);
        }
    }

    private static GatewayFailure unreachable(Target target, Exception cause) {
        return new GatewayFailure(
                GatewayFailure.Kind.UNREACHABLE,
                "no SSH answer from " + target.host() + " port " + target.port()
                        + target.jump().map(j -> " through " + j.host()).orElse(""),
                cause);
    }

    @Override
    public void close() {
        clients.values().forEach(SshClient::stop);
    }
}
