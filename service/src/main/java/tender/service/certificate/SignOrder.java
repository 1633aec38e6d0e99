package tender.service.certificate;

import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.KeyStoreFile;
import tender.core.credential.Secret;

/**
 * A certificate that somebody wants signed.
 *
 * @param names that a server is called by: host names and addresses
 * @param days of validity
 */
public record SignOrder(Authority.Purpose purpose, String commonName, List<String> names, int days, Subject subject) {
    /** Whose key it is for. */
    public sealed interface Subject {
        <T> T match(Function<OnDevice, T> onDevice, Function<MadeHere, T> madeHere);
    }

    /** A key that its device made and keeps. */
    public record OnDevice(byte[] publicKey) implements Subject {
        @Override
        public <T> T match(Function<OnDevice, T> onDevice, Function<MadeHere, T> madeHere) {
            return onDevice.apply(this);
        }
    }

    /** A key that is made now and given once, in a key store. */
    public record MadeHere(CertificateKey.Kind kind, Secret passphrase, KeyStoreFile.Form form) implements Subject {
        @Override
        public <T> T match(Function<OnDevice, T> onDevice, Function<MadeHere, T> madeHere) {
            return madeHere.apply(this);
        }
    }

    Optional<MadeHere> madeHere() {
        return subject.match(device -> Optional.empty(), Optional::of);
    }
}
