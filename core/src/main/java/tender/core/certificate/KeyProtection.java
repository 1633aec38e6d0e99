package tender.core.certificate;

import java.io.IOException;
import java.util.Optional;
import org.bouncycastle.asn1.ASN1Encodable;
import org.bouncycastle.asn1.ASN1ObjectIdentifier;
import org.bouncycastle.asn1.misc.MiscObjectIdentifiers;
import org.bouncycastle.asn1.misc.ScryptParams;
import org.bouncycastle.asn1.pkcs.PBES2Parameters;
import org.bouncycastle.asn1.pkcs.PBKDF2Params;
import org.bouncycastle.asn1.pkcs.PKCS12PBEParams;
import org.bouncycastle.asn1.pkcs.PKCSObjectIdentifiers;
import org.bouncycastle.asn1.x509.AlgorithmIdentifier;
import org.bouncycastle.pkcs.PKCS8EncryptedPrivateKeyInfo;
import org.bouncycastle.pkcs.PKCSException;
import tender.core.credential.Secret;
import tender.core.wire.Budget;
import tender.core.wire.MalformedException;

/** How a key or a key store is locked by a passphrase (RFC 8018, RFC 7292 appendix B). */
public record KeyProtection(String cipher, int rounds, LockAge age) {
    /** Beyond this a file only wants to waste time. */
    public static final int MOST_ROUNDS = 2_000_000;

    private static final long MOST_MEMORY = 64L * 1024 * 1024;

    static KeyProtection of(AlgorithmIdentifier algorithm) {
        ASN1ObjectIdentifier id = algorithm.getAlgorithm();
        ASN1Encodable parameters = algorithm.getParameters();
        if (!id.equals(PKCSObjectIdentifiers.id_PBES2)) {
            LockCipher old = LockCipher.of(id).orElseThrow(KeyProtection::unknown);
            int rounds = PKCS12PBEParams.getInstance(parameters).getIterations().intValueExact();
            return new KeyProtection(old.words, rounds, old.age);
        }
        PBES2Parameters pbes2 = PBES2Parameters.getInstance(parameters);
        Optional<LockCipher> known = LockCipher.of(pbes2.getEncryptionScheme().getAlgorithm());
        String cipher = known.map(c -> c.words).orElse("another cipher");
        LockAge age = known.map(c -> c.age).orElse(LockAge.REFUSED);
        ASN1ObjectIdentifier derivation = pbes2.getKeyDerivationFunc().getAlgorithm();
        if (derivation.equals(MiscObjectIdentifiers.id_scrypt)) {
            ScryptParams scrypt =
                    ScryptParams.getInstance(pbes2.getKeyDerivationFunc().getParameters());
            long memory = 128L
                    * scrypt.getCostParameter().longValueExact()
                    * scrypt.getBlockSize().longValueExact();
            if (memory > MOST_MEMORY || scrypt.getParallelizationParameter().intValueExact() > 4) {
                throw new MalformedException("key", "", "locked at a cost that is not paid here");
            }
            return new KeyProtection(cipher, scrypt.getCostParameter().intValueExact(), age);
        }
        if (!derivation.equals(PKCSObjectIdentifiers.id_PBKDF2)) {
            throw unknown();
        }
        PBKDF2Params derived =
                PBKDF2Params.getInstance(pbes2.getKeyDerivationFunc().getParameters());
        return new KeyProtection(cipher, derived.getIterationCount().intValueExact(), age);
    }

    private static MalformedException unknown() {
        return new MalformedException("key", "", "locked in a way that is not known");
    }

    /** Whether it is one of the old ways, which can be broken. */
    public boolean legacy() {
        return age != LockAge.CURRENT;
    }

    /** Whether current programs do not open it. */
    public boolean refused() {
        return age == LockAge.REFUSED;
    }

    void bounded() {
        if (rounds < 1 || rounds > MOST_ROUNDS) {
            throw new MalformedException("key", "", "locked with " + rounds + " rounds, which is beyond what is tried");
        }
    }

    public String words() {
        return cipher + ", " + rounds + " rounds";
    }

    /** Opens a locked PKCS#8 key; empty where the passphrase is another. */
    static Optional<CertificateKey> open(PKCS8EncryptedPrivateKeyInfo locked, String passphrase, Budget budget) {
        KeyProtection protection = of(locked.getEncryptionAlgorithm());
        protection.bounded();
        for (Passphrase decryptor : Passphrase.of(passphrase)) {
            budget.rounds(protection.rounds());
            try {
                return Optional.of(CertificateKey.ofPrivate(
                        Secret.of(locked.decryptPrivateKeyInfo(decryptor).getEncoded())));
            } catch (PKCSException | IOException | RuntimeException e) {
                continue; // another passphrase, or made into bytes in another way
            }
        }
        return Optional.empty();
    }
}
