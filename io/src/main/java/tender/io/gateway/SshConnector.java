package tender.io.gateway;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.SocketAddress;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.PublicKey;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.apache.sshd.client.SshClient;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.common.NamedResource;
import org.apache.sshd.common.config.keys.KeyUtils;
import org.apache.sshd.common.digest.BuiltinDigests;
import org.apache.sshd.common.util.security.SecurityUtils;
import org.apache.sshd.core.CoreModuleProperties;
import tender.core.credential.RevealSecret;
import tender.io.names.NameService;

/**
 * Manages gateways over SSH and SFTP. Safe for several threads. A signed-in connection is kept for the next call to the
 * same target and dropped when it fails or the device closes it.
 */
public final class SshConnector implements Connector {
    private static final Duration CONNECT_TIMEOUT = Duration.ofSeconds(8);
    private static final Duration SIGN_IN_TIMEOUT = Duration.ofSeconds(10);
    private static final Duration IDLE_TIMEOUT = Duration.ofMinutes(2);

    private final SshClient client;
    private final NameService names;
    private final CallableAddresses callable;
    private final Map<String, ClientSession> kept = new ConcurrentHashMap<>();
    private final Map<String, Object> signingIn = new ConcurrentHashMap<>();

    public SshConnector(NameService names, CallableAddresses callable) {
        this.names = names;
        this.callable = callable;
        client = SshClient.setUpDefaultClient();
        client.setServerKeyVerifier((session, address, key) -> {
            Identity expected = session.getConnectionContext().getAttribute(Identity.EXPECTED);
            return expected != null && expected.check(fingerprint(key));
        });
        CoreModuleProperties.IDLE_TIMEOUT.set(client, IDLE_TIMEOUT);
        client.setClientIdentityLoader(org.apache.sshd.client.config.keys.ClientIdentityLoader.DEFAULT);
        client.setKeyIdentityProvider(org.apache.sshd.common.keyprovider.KeyIdentityProvider.EMPTY_KEYS_PROVIDER);
        client.setHostConfigEntryResolver(org.apache.sshd.client.config.hosts.HostConfigEntryResolver.EMPTY);
        client.start();
    }

    private static String fingerprint(PublicKey key) {
        return KeyUtils.getFingerPrint(BuiltinDigests.sha256, key);
    }

    @Override
    public String identity(Target target) {
        Identity any = new Identity(Optional.empty());
        try (ClientSession session = connect(target, any)) {
            session.auth().verify(SIGN_IN_TIMEOUT);
        } catch (IOException e) {
            // signing in is not meant to succeed here; the key was shown before it
        }
        return any.shown().orElseThrow(() -> unreachable(target, null));
    }

    private static String place(Target target) {
        return target.user() + "@" + target.host() + ":" + target.port() + target.identity();
    }

    @Override
    public void drop(Target target) {
        ClientSession session = kept.remove(place(target));
        if (session != null) {
            session.close(true);
        }
    }

    @Override
    public ManagementConnection open(Target target) {
        String place = place(target);
        ClientSession session;
        // one sign-in at a time for a target: a second would close the first under whoever uses it
        synchronized (signingIn.computeIfAbsent(place, p -> new Object())) {
            session = kept.get(place);
            if (session == null || !session.isOpen() || !session.isAuthenticated()) {
                session = signIn(target);
                kept.put(place, session);
            }
        }
        return new SshConnection(session, target.description(), target.host().toString(), target.readOnly());
    }

    private ClientSession signIn(Target target) {
        Identity expected = new Identity(target.identity());
        ClientSession session = connect(target, expected);
        try {
            session.addPublicKeyIdentity(keyPair(target));
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
                    GatewayFailure.Kind.REFUSED, target.host() + " refuses " + target.user() + " with this key", e);
        } catch (RuntimeException e) {
            session.close(true);
            throw e;
        }
    }

    private ClientSession connect(Target target, Identity expected) {
        InetSocketAddress address = callable.resolve(names, target);
        try {
            return client.connect(target.user(), (SocketAddress) address, expected.context(), null)
                    .verify(CONNECT_TIMEOUT)
                    .getClientSession();
        } catch (IOException e) {
            throw unreachable(target, e);
        }
    }

    private static GatewayFailure unreachable(Target target, Exception cause) {
        return new GatewayFailure(
                GatewayFailure.Kind.UNREACHABLE,
                "no SSH answer from " + target.host() + " port " + target.port(),
                cause);
    }

    private static KeyPair keyPair(Target target) {
        try (ByteArrayInputStream in = new ByteArrayInputStream(target.secret().reveal(RevealSecret.TO_SIGN_IN))) {
            Iterable<KeyPair> pairs = SecurityUtils.loadKeyPairIdentities(null, NamedResource.ofName("key"), in, null);
            if (pairs != null && pairs.iterator().hasNext()) {
                return pairs.iterator().next();
            }
        } catch (IOException | GeneralSecurityException | RuntimeException e) {
            throw new GatewayFailure(
                    GatewayFailure.Kind.BAD_KEY,
                    "the SSH key cannot be read; an unencrypted OpenSSH or PEM private key is expected",
                    null);
        }
        throw new GatewayFailure(GatewayFailure.Kind.BAD_KEY, "the text holds no SSH private key", null);
    }

    @Override
    public void close() {
        client.stop();
    }
}
