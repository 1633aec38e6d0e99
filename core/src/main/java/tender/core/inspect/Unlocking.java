package tender.core.inspect;

import java.util.Optional;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.KeyStoreFile;
import tender.core.certificate.PrivateKeyFile;
import tender.core.wire.Budget;

/**
 * What locked keys are opened with, and what that may still cost.
 *
 * @param old whether the program that the file is for opens old locks too
 */
record Unlocking(Optional<String> passphrase, Budget budget, boolean old) {
    private static final int FEW_ROUNDS = 500_000;

    Unlocking(Optional<String> passphrase, Budget budget) {
        this(passphrase, budget, false);
    }

    Optional<CertificateKey> open(PrivateKeyFile file) {
        return passphrase.flatMap(p -> file.open(p, budget));
    }

    /** Many key stores are locked by no passphrase at all; that is tried where it costs little. */
    Optional<KeyStoreFile.Opened> open(KeyStoreFile store) {
        Optional<String> tried = passphrase.or(() -> store.rounds() <= FEW_ROUNDS ? Optional.of("") : Optional.empty());
        return tried.flatMap(p -> store.open(p, budget));
    }
}
