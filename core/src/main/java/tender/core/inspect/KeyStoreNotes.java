package tender.core.inspect;

import java.util.Optional;
import java.util.stream.Collectors;
import tender.core.certificate.KeyProtection;
import tender.core.certificate.KeyStoreFile;

/** What is said of a key store. */
final class KeyStoreNotes {
    private KeyStoreNotes() {}

    /** Notes how it is locked, and opens it where the passphrase is given. */
    static Optional<KeyStoreFile.Opened> of(KeyStoreFile store, int line, Inspection.Draft draft, Unlocking unlocking) {
        draft.fact(
                "locked with",
                store.protections().isEmpty()
                        ? "nothing"
                        : store.protections().stream()
                                .map(KeyProtection::words)
                                .distinct()
                                .collect(Collectors.joining("; ")));
        if (store.isRefused() && !unlocking.old()) {
            draft.note(
                    Hint.LOCK_REFUSED,
                    line,
                    store.protections().stream()
                            .filter(KeyProtection::refused)
                            .findFirst()
                            .map(KeyProtection::cipher)
                            .orElse("the digest of its check"));
        } else if (store.isLegacy()) {
            draft.note(Hint.KEY_STORE_LEGACY, line, store.protections().get(0).cipher());
        }
        Optional<KeyStoreFile.Opened> opened = unlocking.open(store);
        if (opened.isEmpty()) {
            draft.note(
                    Hint.PASSPHRASE_NEEDED,
                    line,
                    unlocking.passphrase().isPresent() ? "this passphrase does not open it" : "");
        }
        return opened;
    }
}
