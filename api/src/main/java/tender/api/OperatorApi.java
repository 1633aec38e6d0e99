package tender.api;

import java.time.Instant;
import java.util.Optional;
import tender.core.credential.Revealed;
import tender.core.credential.Secret;

/** Signing in, and who one is. */
public final class OperatorApi {
    public static final String TOKEN_SCHEME = "Bearer ";

    /**
     * Signing in.
     *
     * @param forClient answer with a token for the command-line client instead of setting a cookie
     * @param scope read or operate; operate where missing
     * @param days how long a client's token works, 1 to 30; 30 where missing
     */
    public record SignIn(
            String name,
            Secret password,
            Optional<String> code,
            Optional<Boolean> forClient,
            Optional<String> label,
            Optional<String> scope,
            Optional<Integer> days) {}

    /** Proving anew who one is, for what needs a fresh sign-in. */
    public record Fresh(Secret password, Optional<String> code) {}

    public record FreshUntil(Instant until) {}

    public record SetRole(String role) {}

    public record ResetPassword(Secret password) {}

    public record SignedIn(Operator operator, @Revealed Optional<Secret> token, Instant expiresAt) {}

    /** @param enrolNeeded whether a second factor has to be set up before anything else */
    public record Operator(
            String name,
            String role,
            boolean mustChangePassword,
            boolean hasCode,
            boolean enrolNeeded,
            boolean disabled) {}

    public record ChangePassword(Secret old, Secret fresh) {}

    public record AddOperator(String name, String role, Secret password) {}

    /** A seed to enter in a code device, shown once; it counts after {@link ConfirmCode}. */
    public record CodeSeed(@Revealed Secret seed, @Revealed Secret link) {}

    public record ConfirmCode(String code) {}

    public record Token(
            String id,
            String kind,
            String label,
            String scope,
            Instant createdAt,
            Instant expiresAt,
            boolean thisOne) {}

    private OperatorApi() {}
}
