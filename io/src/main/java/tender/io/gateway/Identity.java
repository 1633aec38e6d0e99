package tender.io.gateway;

import java.util.Optional;
import org.apache.sshd.common.AttributeRepository;
import org.apache.sshd.common.AttributeRepository.AttributeKey;

/** What a device is expected to show as its host key, and what it did show. Without an expectation, any key is noted and refused. */
final class Identity {
    static final AttributeKey<Identity> EXPECTED = new AttributeKey<>();

    private final Optional<String> expected;
    private volatile String shown;

    Identity(Optional<String> expected) {
        this.expected = expected;
    }

    AttributeRepository context() {
        return AttributeRepository.ofKeyValuePair(EXPECTED, this);
    }

    boolean check(String fingerprint) {
        shown = fingerprint;
        return expected.filter(e -> HostKeys.isSame(e, fingerprint)).isPresent();
    }

    Optional<String> shown() {
        return Optional.ofNullable(shown);
    }

    boolean isOther() {
        return shown != null && expected.filter(e -> HostKeys.isSame(e, shown)).isEmpty();
    }
}
