package tender.core.certificate;

import java.util.Map;
import java.util.function.Supplier;
import org.bouncycastle.asn1.ASN1ObjectIdentifier;
import org.bouncycastle.asn1.ASN1OctetString;
import org.bouncycastle.asn1.nist.NISTObjectIdentifiers;
import org.bouncycastle.asn1.pkcs.PBES2Parameters;
import org.bouncycastle.asn1.pkcs.PBKDF2Params;
import org.bouncycastle.asn1.pkcs.PKCS12PBEParams;
import org.bouncycastle.asn1.pkcs.PKCSObjectIdentifiers;
import org.bouncycastle.asn1.x509.AlgorithmIdentifier;
import org.bouncycastle.crypto.BlockCipher;
import org.bouncycastle.crypto.BufferedBlockCipher;
import org.bouncycastle.crypto.CipherParameters;
import org.bouncycastle.crypto.Digest;
import org.bouncycastle.crypto.digests.SHA1Digest;
import org.bouncycastle.crypto.digests.SHA224Digest;
import org.bouncycastle.crypto.digests.SHA256Digest;
import org.bouncycastle.crypto.digests.SHA384Digest;
import org.bouncycastle.crypto.digests.SHA512Digest;
import org.bouncycastle.crypto.engines.AESEngine;
import org.bouncycastle.crypto.engines.DESedeEngine;
import org.bouncycastle.crypto.engines.RC2Engine;
import org.bouncycastle.crypto.generators.PKCS12ParametersGenerator;
import org.bouncycastle.crypto.generators.PKCS5S2ParametersGenerator;
import org.bouncycastle.crypto.io.CipherInputStream;
import org.bouncycastle.crypto.modes.CBCBlockCipher;
import org.bouncycastle.crypto.paddings.PaddedBufferedBlockCipher;
import org.bouncycastle.crypto.params.ParametersWithIV;
import org.bouncycastle.operator.InputDecryptor;
import org.bouncycastle.operator.InputDecryptorProvider;
import tender.core.wire.MalformedException;

/**
 * Opens what is locked with the empty passphrase, which the library's own way refuses. Programs differ in what they make of
 * it for the older locks: nothing at all, or the end mark of an empty text, two zero bytes (RFC 7292 §B.1).
 */
final class NoPassphrase implements InputDecryptorProvider {
    private static final Map<ASN1ObjectIdentifier, Supplier<Digest>> DIGESTS = Map.of(
            PKCSObjectIdentifiers.id_hmacWithSHA1, SHA1Digest::new,
            PKCSObjectIdentifiers.id_hmacWithSHA224, SHA224Digest::new,
            PKCSObjectIdentifiers.id_hmacWithSHA256, SHA256Digest::newInstance,
            PKCSObjectIdentifiers.id_hmacWithSHA384, SHA384Digest::new,
            PKCSObjectIdentifiers.id_hmacWithSHA512, SHA512Digest::new);
    private static final Map<ASN1ObjectIdentifier, Integer> KEY_BITS = Map.of(
            NISTObjectIdentifiers.id_aes128_CBC, 128,
            NISTObjectIdentifiers.id_aes192_CBC, 192,
            NISTObjectIdentifiers.id_aes256_CBC, 256,
            PKCSObjectIdentifiers.des_EDE3_CBC, 192,
            PKCSObjectIdentifiers.pbeWithSHAAnd3_KeyTripleDES_CBC, 192,
            PKCSObjectIdentifiers.pbeWithSHAAnd2_KeyTripleDES_CBC, 128,
            PKCSObjectIdentifiers.pbeWithSHAAnd128BitRC2_CBC, 128,
            PKCSObjectIdentifiers.pbeWithSHAAnd40BitRC2_CBC, 40);

    private final byte[] ofOlderLocks;

    /** @param marked whether the older locks take the end mark of the text */
    NoPassphrase(boolean marked) {
        this.ofOlderLocks = new byte[marked ? 2 : 0];
    }

    @Override
    public InputDecryptor get(AlgorithmIdentifier algorithm) {
        boolean pbes2 = algorithm.getAlgorithm().equals(PKCSObjectIdentifiers.id_PBES2);
        BufferedBlockCipher cipher = pbes2
                ? pbes2(PBES2Parameters.getInstance(algorithm.getParameters()))
                : older(algorithm.getAlgorithm(), PKCS12PBEParams.getInstance(algorithm.getParameters()));
        return new InputDecryptor() {
            @Override
            public AlgorithmIdentifier getAlgorithmIdentifier() {
                return algorithm;
            }

            @Override
            public java.io.InputStream getInputStream(java.io.InputStream in) {
                return new CipherInputStream(in, cipher);
            }
        };
    }

    private static BufferedBlockCipher pbes2(PBES2Parameters p) {
        ASN1ObjectIdentifier scheme = p.getEncryptionScheme().getAlgorithm();
        PBKDF2Params derivation =
                PBKDF2Params.getInstance(p.getKeyDerivationFunc().getParameters());
        Supplier<Digest> digest = DIGESTS.get(derivation.getPrf().getAlgorithm());
        if (digest == null) {
            throw unknown();
        }
        PKCS5S2ParametersGenerator keys = new PKCS5S2ParametersGenerator(digest.get());
        keys.init(
                new byte[0],
                derivation.getSalt(),
                derivation.getIterationCount().intValueExact());
        byte[] iv = ASN1OctetString.getInstance(p.getEncryptionScheme().getParameters())
                .getOctets();
        boolean tripleDes = scheme.equals(PKCSObjectIdentifiers.des_EDE3_CBC);
        return cipher(
                tripleDes ? new DESedeEngine() : AESEngine.newInstance(),
                new ParametersWithIV(keys.generateDerivedParameters(bits(scheme)), iv));
    }

    private BufferedBlockCipher older(ASN1ObjectIdentifier id, PKCS12PBEParams p) {
        boolean rc2 = id.equals(PKCSObjectIdentifiers.pbeWithSHAAnd128BitRC2_CBC)
                || id.equals(PKCSObjectIdentifiers.pbeWithSHAAnd40BitRC2_CBC);
        PKCS12ParametersGenerator keys = new PKCS12ParametersGenerator(new SHA1Digest());
        keys.init(ofOlderLocks, p.getIV(), p.getIterations().intValueExact());
        return cipher(rc2 ? new RC2Engine() : new DESedeEngine(), keys.generateDerivedParameters(bits(id), 64));
    }

    private static int bits(ASN1ObjectIdentifier cipher) {
        Integer bits = KEY_BITS.get(cipher);
        if (bits == null) {
            throw unknown();
        }
        return bits;
    }

    private static BufferedBlockCipher cipher(BlockCipher block, CipherParameters with) {
        BufferedBlockCipher out = new PaddedBufferedBlockCipher(CBCBlockCipher.newInstance(block));
        out.init(false, with);
        return out;
    }

    private static MalformedException unknown() {
        return new MalformedException("key", "", "locked in a way that is not known");
    }
}
