package tender.service.importing;

import tender.core.credential.Secret;

/**
 * The passphrase of locked key stores and keys.
 *
 * @param kept whether it is kept, encrypted, with each profile whose file it opens, for trials and handouts; otherwise it only serves to
 *     look whose a file is
 */
public record Unlocking(Secret passphrase, boolean kept) {}
