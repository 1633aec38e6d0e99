package tender.core.trial;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.core.certificate.CertificateFacts;
import tender.core.ike.IkeSettings;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.profile.IkeProfile;
import tender.core.wire.MalformedException;

/**
 * What a trial of an IKEv2 profile asks: the very settings and parts of the file, and what should answer inside.
 *
 * @param gatewayInside the gateway's own address inside, where the records tell it
 * @param notLookedAt what the file says beside it that may decide trust, keys or reach
 */
public record IkeQuestion(
        IkeSettings settings,
        Host server,
        Optional<IpAddress> gatewayInside,
        Optional<IpAddress> insideHost,
        List<String> notLookedAt,
        Instant now) {
    public IkeQuestion {
        notLookedAt = List.copyOf(notLookedAt);
    }

    /** Takes a swanctl section with its parts behind it; refuses one that a client could not use either. */
    public static IkeQuestion of(
            String text,
            IkeSettings.Added added,
            Optional<IpAddress> gatewayInside,
            Optional<IpAddress> insideHost,
            Instant now) {
        IkeProfile profile = IkeProfile.read(text);
        String called = profile.list("", "remote_addrs").stream()
                .findFirst()
                .filter(a -> !a.startsWith("%"))
                .orElseThrow(() -> new MalformedException("profile", "remote_addrs", "the file calls nobody"));
        return new IkeQuestion(
                IkeSettings.of(profile, added),
                Host.parse(called),
                gatewayInside,
                insideHost,
                IkeNotLookedAt.of(profile),
                now);
    }

    /** Whether a text signs in by name and password, and says no password itself. */
    public static boolean asksPassword(String text) {
        if (!IkeProfile.looksLike(text)) {
            return false;
        }
        IkeSettings settings = IkeSettings.of(IkeProfile.read(text), IkeSettings.Added.NOTHING);
        return settings.proof().startsWith("eap") && settings.secret().isEmpty();
    }

    /** Whether what the file says, and what the server allows of it, sends this address through the tunnel. */
    boolean reaches(IpAddress address, IkeSeen seen) {
        return seen.reach().stream().anyMatch(n -> n.contains(address));
    }

    Optional<CertificateFacts> own() {
        return settings.chain().stream().findFirst().map(CertificateFacts::of);
    }

    public boolean byPassword() {
        return settings.proof().startsWith("eap");
    }

    boolean bySecret() {
        return settings.proof().equals("psk");
    }

    /** Whether the client's own certificate is signed by one of the authorities in the file. */
    boolean ownIsTheAuthoritys() {
        return settings.chain().isEmpty()
                || settings.authorities().isEmpty()
                || ServerTrust.isSignedBy(settings.chain(), settings.authorities());
    }

    List<Integer> ports() {
        return settings.port() == IkeSettings.PORT
                ? List.of(IkeSettings.PORT, IkeSettings.NAT_PORT)
                : List.of(settings.port());
    }
}
