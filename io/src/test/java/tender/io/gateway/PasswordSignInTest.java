package tender.io.gateway;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.apache.sshd.server.SshServer;
import org.apache.sshd.server.auth.keyboard.InteractiveChallenge;
import org.apache.sshd.server.auth.keyboard.KeyboardInteractiveAuthenticator;
import org.apache.sshd.server.auth.keyboard.PromptEntry;
import org.apache.sshd.server.auth.keyboard.UserAuthKeyboardInteractiveFactory;
import org.apache.sshd.server.auth.password.UserAuthPasswordFactory;
import org.apache.sshd.server.keyprovider.SimpleGeneratorHostKeyProvider;
import org.apache.sshd.server.session.ServerSession;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.credential.Secret;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.Port;
import tender.io.names.DnsNameService;

/** Devices that take a password, by the password method or by a question (keyboard-interactive). */
class PasswordSignInTest {
    private static final String ADDRESS = "127.10.95.1";
    private static final String PASSWORD = "correct horse";

    @TempDir
    Path folder;

    private SshServer server;
    private SshConnector connector;

    @BeforeEach
    void open() throws Exception {
        server = SshServer.setUpDefaultServer();
        server.setHost(ADDRESS);
        server.setKeyPairProvider(new SimpleGeneratorHostKeyProvider(folder.resolve("host")));
        connector = new SshConnector(
                new DnsNameService(Optional.empty()), new CallableAddresses(List.of(Cidr.parse("127.10.0.0/16"))));
    }

    @AfterEach
    void close() throws Exception {
        connector.close();
        server.close();
    }

    private void signIn(String password) {
        Target target = new Target(
                Host.parse(ADDRESS),
                new Port(server.getPort()),
                "keeper",
                new SignIn(SignIn.Method.PASSWORD, Secret.of(password)),
                Optional.empty(),
                DescriptionReader.shipped("plain-router"),
                false);
        connector.open(target.withIdentity(connector.identity(target))).close();
    }

    private void takesTheRightOneOnly() {
        signIn(PASSWORD);
        assertThatThrownBy(() -> signIn("wrong"))
                .isInstanceOfSatisfying(
                        GatewayFailure.class, f -> assertThat(f.kind()).isEqualTo(GatewayFailure.Kind.REFUSED))
                .hasMessageContaining("password")
                .hasMessageNotContaining("wrong");
    }

    @Test
    void byThePasswordMethod() throws Exception {
        server.setUserAuthFactories(List.of(UserAuthPasswordFactory.INSTANCE));
        server.setPasswordAuthenticator((user, password, session) -> password.equals(PASSWORD));
        server.start();

        takesTheRightOneOnly();
    }

    @Test
    void byAHiddenQuestion() throws Exception {
        server.setUserAuthFactories(List.of(UserAuthKeyboardInteractiveFactory.INSTANCE));
        server.setKeyboardInteractiveAuthenticator(question("Password: ", false));
        server.start();

        takesTheRightOneOnly();
    }

    /** Whoever shows what is typed asks for something else than a password. */
    @Test
    void aQuestionWhoseAnswerIsShownGetsNoPassword() throws Exception {
        server.setUserAuthFactories(List.of(UserAuthKeyboardInteractiveFactory.INSTANCE));
        server.setKeyboardInteractiveAuthenticator(question("Your town: ", true));
        server.start();

        assertThatThrownBy(() -> signIn(PASSWORD)).isInstanceOf(GatewayFailure.class);
    }

    private static KeyboardInteractiveAuthenticator question(String text, boolean shown) {
        return new KeyboardInteractiveAuthenticator() {
            @Override
            public InteractiveChallenge generateChallenge(
                    ServerSession session, String username, String lang, String subMethods) {
                InteractiveChallenge challenge = new InteractiveChallenge();
                challenge.setInteractionName("sign-in");
                challenge.setInteractionInstruction("");
                challenge.setLanguageTag("");
                challenge.addPrompt(new PromptEntry(text, shown));
                return challenge;
            }

            @Override
            public boolean authenticate(ServerSession session, String username, List<String> responses) {
                assertThat(responses).hasSizeLessThan(2);
                return responses.contains(PASSWORD);
            }
        };
    }
}
