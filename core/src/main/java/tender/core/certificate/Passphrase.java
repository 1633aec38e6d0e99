package tender.core.certificate;

import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import org.bouncycastle.asn1.ASN1ObjectIdentifier;
import org.bouncycastle.asn1.ASN1OctetString;
import org.bouncycastle.asn1.misc.MiscObjectIdentifiers;
import org.bouncycastle.asn1.misc.ScryptParams;
import org.bouncycastle.asn1.pkcs.KeyDerivationFunc;
import org.bouncycastle.asn1.pkcs.MacData;
import org.bouncycastle.asn1.pkcs.PBEParameter;
import org.bouncycastle.asn1.pkcs.PBES2Parameters;
import org.bouncycastle.asn1.pkcs.PBKDF2Params;
import org.bouncycastle.asn1.pkcs.PKCS12PBEParams;
import org.bouncycastle.asn1.pkcs.PKCSObjectIdentifiers;
import org.bouncycastle.asn1.x509.AlgorithmIdentifier;
import org.bouncycastle.crypto.CipherParameters;
import org.bouncycastle.crypto.Digest;
import org.bouncycastle.crypto.PBEParametersGenerator;
import org.bouncycastle.crypto.digests.MD5Digest;
import org.bouncycastle.crypto.digests.SHA1Digest;
import org.bouncycastle.crypto.digests.SHA224Digest;
import org.bouncycastle.crypto.digests.SHA256Digest;
import org.bouncycastle.crypto.digests.SHA384Digest;
import org.bouncycastle.crypto.digests.SHA512Digest;
import org.bouncycastle.crypto.digests.SHA512tDigest;
import org.bouncycastle.crypto.engines.RC4Engine;
import org.bouncycastle.crypto.generators.PKCS12ParametersGenerator;
import org.bouncycastle.crypto.generators.PKCS5S1ParametersGenerator;
import org.bouncycastle.crypto.generators.PKCS5S2ParametersGenerator;
import org.bouncycastle.crypto.generators.SCrypt;
import org.bouncycastle.crypto.io.CipherInputStream;
import org.bouncycastle.crypto.macs.HMac;
import org.bouncycastle.crypto.modes.CBCBlockCipher;
import org.bouncycastle.crypto.paddings.PaddedBufferedBlockCipher;
import org.bouncycastle.crypto.params.KeyParameter;
import org.bouncycastle.crypto.params.ParametersWithIV;
import org.bouncycastle.operator.InputDecryptor;
import org.bouncycastle.operator.InputDecryptorProvider;
import tender.core.wire.MalformedException;

/**
 * Opens what a passphrase locks (RFC 8018, RFC 7292 appendix B). Key stores take it as text of two bytes a letter with an end
 * mark; for the empty one programs differ in whether the mark is there.
 */
final class Passphrase implements InputDecryptorProvider {
    private static final Map<ASN1ObjectIdentifier, Supplier<Digest>> DIGESTS = Map.of(
            PKCSObjectIdentifiers.id_hmacWithSHA1, SHA1Digest::new,
            PKCSObjectIdentifiers.id_hmacWithSHA224, SHA224Digest::new,
            PKCSObjectIdentifiers.id_hmacWithSHA256, SHA256Digest::newInstance,
            PKCSObjectIdentifiers.id_hmacWithSHA384, SHA384Digest::new,
            PKCSObjectIdentifiers.id_hmacWithSHA512, SHA512Digest::new,
            PKCSObjectIdentifiers.id_hmacWithSHA512_224, () -> new SHA512tDigest(224),
            PKCSObjectIdentifiers.id_hmacWithSHA512_256, () -> new SHA512tDigest(256));

    private final byte[] text;
    private final byte[] wide;

    private Passphrase(byte[] text, byte[] wide) {
        this.text = text;
        this.wide = wide;
    }

    /** Each way in which programs make bytes of it, in the order to be tried. */
    static List<Passphrase> of(String passphrase) {
        byte[] text = passphrase.getBytes(StandardCharsets.UTF_8);
        return passphrase.isEmpty()
                ? List.of(new Passphrase(text, new byte[2]), new Passphrase(text, new byte[0]))
                : List.of(new Passphrase(text, PBEParametersGenerator.PKCS12PasswordToBytes(passphrase.toCharArray())));
    }

    /** Whether the check of a key store was made with it. */
    boolean checks(MacData mac, byte[] content, Digest digest) {
        PKCS12ParametersGenerator keys = new PKCS12ParametersGenerator(digest);
        keys.init(wide, mac.getSalt(), mac.getIterationCount().intValueExact());
        HMac made = new HMac(digest);
        made.init(keys.generateDerivedMacParameters(digest.getDigestSize() * 8));
        made.update(content, 0, content.length);
        byte[] out = new byte[made.getMacSize()];
        made.doFinal(out, 0);
        return org.bouncycastle.util.Arrays.constantTimeAreEqual(
                out, mac.getMac().getDigest());
    }

    @Override
    public InputDecryptor get(AlgorithmIdentifier algorithm) {
        boolean pbes2 = algorithm.getAlgorithm().equals(PKCSObjectIdentifiers.id_PBES2);
        ASN1ObjectIdentifier id = pbes2
                ? PBES2Parameters.getInstance(algorithm.getParameters())
                        .getEncryptionScheme()
                        .getAlgorithm()
                : algorithm.getAlgorithm();
        LockCipher cipher = LockCipher.of(id).orElseThrow(Passphrase::unknown);
        return new InputDecryptor() {
            @Override
            public AlgorithmIdentifier getAlgorithmIdentifier() {
                return algorithm;
            }

            @Override
            public InputStream getInputStream(InputStream in) {
                return opened(cipher, algorithm, in);
            }
        };
    }

    private InputStream opened(LockCipher cipher, AlgorithmIdentifier algorithm, InputStream in) {
        if (cipher.scheme == LockCipher.Scheme.STREAM) {
            RC4Engine stream = new RC4Engine();
            PKCS12ParametersGenerator keys = store(PKCS12PBEParams.getInstance(algorithm.getParameters()));
            stream.init(false, keys.generateDerivedParameters(cipher.bits));
            return new CipherInputStream(in, stream);
        }
        PaddedBufferedBlockCipher block =
                new PaddedBufferedBlockCipher(CBCBlockCipher.newInstance(cipher.engine.get()));
        block.init(
                false,
                switch (cipher.scheme) {
                    case PBES2 -> pbes2(cipher, PBES2Parameters.getInstance(algorithm.getParameters()));
                    case PBES1_MD5 -> pbes1(new MD5Digest(), PBEParameter.getInstance(algorithm.getParameters()));
                    case PBES1_SHA1 -> pbes1(new SHA1Digest(), PBEParameter.getInstance(algorithm.getParameters()));
                    default ->
                        store(PKCS12PBEParams.getInstance(algorithm.getParameters()))
                                .generateDerivedParameters(cipher.bits, 64);
                });
        return new CipherInputStream(in, block);
    }

    private PKCS12ParametersGenerator store(PKCS12PBEParams p) {
        PKCS12ParametersGenerator keys = new PKCS12ParametersGenerator(new SHA1Digest());
        keys.init(wide, p.getIV(), p.getIterations().intValueExact());
        return keys;
    }

    private CipherParameters pbes1(Digest digest, PBEParameter p) {
        PKCS5S1ParametersGenerator keys = new PKCS5S1ParametersGenerator(digest);
        keys.init(text, p.getSalt(), p.getIterationCount().intValueExact());
        return keys.generateDerivedParameters(64, 64);
    }

    private CipherParameters pbes2(LockCipher cipher, PBES2Parameters p) {
        byte[] iv = ASN1OctetString.getInstance(p.getEncryptionScheme().getParameters())
                .getOctets();
        return new ParametersWithIV(derived(p.getKeyDerivationFunc(), cipher.bits), iv);
    }

    private KeyParameter derived(KeyDerivationFunc how, int bits) {
        if (how.getAlgorithm().equals(MiscObjectIdentifiers.id_scrypt)) {
            ScryptParams p = ScryptParams.getInstance(how.getParameters());
            return new KeyParameter(SCrypt.generate(
                    text,
                    p.getSalt(),
                    p.getCostParameter().intValueExact(),
                    p.getBlockSize().intValueExact(),
                    p.getParallelizationParameter().intValueExact(),
                    bits / 8));
        }
        PBKDF2Params p = PBKDF2Params.getInstance(how.getParameters());
        Supplier<Digest> digest = DIGESTS.get(p.getPrf().getAlgorithm());
        if (digest == null) {
            throw unknown();
        }
        PKCS5S2ParametersGenerator keys = new PKCS5S2ParametersGenerator(digest.get());
        keys.init(text, p.getSalt(), p.getIterationCount().intValueExact());
        return (KeyParameter) keys.generateDerivedParameters(bits);
    }

    private static MalformedException unknown() {
        return new MalformedException("key", "", "locked in a way that is not known");
    }
}
