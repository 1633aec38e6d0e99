package tender.api;

import java.time.Instant;
import java.util.Optional;
import tender.core.credential.Secret;

/** Signing in, and who one is. */
public final class OperatorApi {
    public static final String TOKEN_SCHEME = "Bearer ";

    /** {@code forClient}: answer with a token for the command-line client instead of setting a cookie. */
    public record SignIn(
            String name, Secret password, Optional<String> code, Optional<Boolean> forClient, Optional<String> label) {}

    public record SignedIn(Operator operator, Optional<Secret> token, Instant expiresAt) {}

    public record Operator(String name, String role, boolean mustChangePassword, boolean hasCode) {}

    public record ChangePassword(Secret old, Secret fresh) {}

    public record AddOperator(String name, String role, Secret password) {}

    /** A seed to enter in a code device, shown once; it counts after {@link ConfirmCode}. */
    public record CodeSeed(Secret seed, Secret link) {}

    public record ConfirmCode(String code) {}

    public record Token(String id, String kind, String label, Instant createdAt, Instant expiresAt, boolean thisOne) {}

    private OperatorApi() {}
}
