package tender.core.certificate;

import java.io.IOException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.bouncycastle.asn1.ASN1Encodable;
import org.bouncycastle.asn1.ASN1ObjectIdentifier;
import org.bouncycastle.asn1.misc.MiscObjectIdentifiers;
import org.bouncycastle.asn1.misc.ScryptParams;
import org.bouncycastle.asn1.nist.NISTObjectIdentifiers;
import org.bouncycastle.asn1.pkcs.PBES2Parameters;
import org.bouncycastle.asn1.pkcs.PBKDF2Params;
import org.bouncycastle.asn1.pkcs.PKCS12PBEParams;
import org.bouncycastle.asn1.pkcs.PKCSObjectIdentifiers;
import org.bouncycastle.asn1.x509.AlgorithmIdentifier;
import org.bouncycastle.jce.provider.BouncyCastleProvider;
import org.bouncycastle.operator.InputDecryptorProvider;
import org.bouncycastle.pkcs.PKCS8EncryptedPrivateKeyInfo;
import org.bouncycastle.pkcs.PKCSException;
import org.bouncycastle.pkcs.jcajce.JcePKCSPBEInputDecryptorProviderBuilder;
import tender.core.credential.Secret;
import tender.core.wire.Budget;
import tender.core.wire.MalformedException;

/**
 * How a key or a key store is locked by a passphrase (RFC 8018, RFC 7292 appendix B).
 *
 * @param legacy whether it is one of the old ways that current programs refuse or warn of
 */
public record KeyProtection(String cipher, int rounds, boolean legacy) {
    /** Beyond this a file only wants to waste time. */
    public static final int MOST_ROUNDS = 2_000_000;

    private static final long MOST_MEMORY = 64L * 1024 * 1024;
    private static final Map<ASN1ObjectIdentifier, String> OLD = Map.of(
            PKCSObjectIdentifiers.pbeWithSHAAnd40BitRC2_CBC, "RC2-40",
            PKCSObjectIdentifiers.pbeWithSHAAnd128BitRC2_CBC, "RC2-128",
            PKCSObjectIdentifiers.pbeWithSHAAnd3_KeyTripleDES_CBC, "3DES",
            PKCSObjectIdentifiers.pbeWithSHAAnd2_KeyTripleDES_CBC, "3DES",
            PKCSObjectIdentifiers.pbeWithSHAAnd40BitRC4, "RC4-40",
            PKCSObjectIdentifiers.pbeWithSHAAnd128BitRC4, "RC4-128",
            PKCSObjectIdentifiers.pbeWithMD5AndDES_CBC, "DES",
            PKCSObjectIdentifiers.pbeWithSHA1AndDES_CBC, "DES");
    private static final Map<ASN1ObjectIdentifier, String> CIPHERS = Map.of(
            NISTObjectIdentifiers.id_aes128_CBC, "AES-128-CBC",
            NISTObjectIdentifiers.id_aes192_CBC, "AES-192-CBC",
            NISTObjectIdentifiers.id_aes256_CBC, "AES-256-CBC",
            PKCSObjectIdentifiers.des_EDE3_CBC, "3DES");

    static KeyProtection of(AlgorithmIdentifier algorithm) {
        ASN1ObjectIdentifier id = algorithm.getAlgorithm();
        ASN1Encodable parameters = algorithm.getParameters();
        if (OLD.containsKey(id)) {
            int rounds = PKCS12PBEParams.getInstance(parameters).getIterations().intValueExact();
            return new KeyProtection(OLD.get(id), rounds, true);
        }
        if (!id.equals(PKCSObjectIdentifiers.id_PBES2)) {
            throw new MalformedException("key", "", "locked in a way that is not known");
        }
        PBES2Parameters pbes2 = PBES2Parameters.getInstance(parameters);
        String cipher = CIPHERS.getOrDefault(pbes2.getEncryptionScheme().getAlgorithm(), "another cipher");
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
            return new KeyProtection(cipher, scrypt.getCostParameter().intValueExact(), false);
        }
        if (!derivation.equals(PKCSObjectIdentifiers.id_PBKDF2)) {
            throw new MalformedException("key", "", "locked in a way that is not known");
        }
        PBKDF2Params derived =
                PBKDF2Params.getInstance(pbes2.getKeyDerivationFunc().getParameters());
        return new KeyProtection(cipher, derived.getIterationCount().intValueExact(), cipher.equals("3DES"));
    }

    void bounded() {
        if (rounds < 1 || rounds > MOST_ROUNDS) {
            throw new MalformedException("key", "", "locked with " + rounds + " rounds, which is beyond what is tried");
        }
    }

    public String words() {
        return cipher + ", " + rounds + " rounds";
    }

    /** In the order to be tried: only the empty passphrase is made into bytes in more than one way. */
    static List<InputDecryptorProvider> decryptors(char[] passphrase) {
        return passphrase.length == 0
                ? List.of(new NoPassphrase(true), new NoPassphrase(false))
                : List.of(decryptor(passphrase));
    }

    private static InputDecryptorProvider decryptor(char[] passphrase) {
        return new JcePKCSPBEInputDecryptorProviderBuilder()
                .setProvider(Provider.BC)
                .build(passphrase);
    }

    /** Made when first needed; building it takes a tenth of a second. */
    private static final class Provider {
        private static final BouncyCastleProvider BC = new BouncyCastleProvider();

        private Provider() {}
    }

    /** Opens a locked PKCS#8 key; empty where the passphrase is another. */
    static Optional<CertificateKey> open(PKCS8EncryptedPrivateKeyInfo locked, char[] passphrase, Budget budget) {
        KeyProtection protection = of(locked.getEncryptionAlgorithm());
        protection.bounded();
        for (InputDecryptorProvider decryptor : decryptors(passphrase)) {
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
