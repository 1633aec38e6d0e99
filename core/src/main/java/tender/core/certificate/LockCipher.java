package tender.core.certificate;

import static tender.core.certificate.LockAge.CURRENT;
import static tender.core.certificate.LockAge.OLD;
import static tender.core.certificate.LockAge.REFUSED;

import java.util.Optional;
import java.util.function.Supplier;
import java.util.stream.Stream;
import org.bouncycastle.asn1.ASN1ObjectIdentifier;
import org.bouncycastle.crypto.BlockCipher;
import org.bouncycastle.crypto.engines.AESEngine;
import org.bouncycastle.crypto.engines.ARIAEngine;
import org.bouncycastle.crypto.engines.CamelliaEngine;
import org.bouncycastle.crypto.engines.DESEngine;
import org.bouncycastle.crypto.engines.DESedeEngine;
import org.bouncycastle.crypto.engines.RC2Engine;
import org.bouncycastle.crypto.engines.SM4Engine;

/** The ciphers that keys and key stores are locked with, each beside how its key is made of a passphrase. */
enum LockCipher {
    AES_128(Scheme.PBES2, "AES-128-CBC", "2.16.840.1.101.3.4.1.2", 128, AESEngine::newInstance, CURRENT),
    AES_192(Scheme.PBES2, "AES-192-CBC", "2.16.840.1.101.3.4.1.22", 192, AESEngine::newInstance, CURRENT),
    AES_256(Scheme.PBES2, "AES-256-CBC", "2.16.840.1.101.3.4.1.42", 256, AESEngine::newInstance, CURRENT),
    ARIA_128(Scheme.PBES2, "ARIA-128-CBC", "1.2.410.200046.1.1.2", 128, ARIAEngine::new, CURRENT),
    ARIA_192(Scheme.PBES2, "ARIA-192-CBC", "1.2.410.200046.1.1.7", 192, ARIAEngine::new, CURRENT),
    ARIA_256(Scheme.PBES2, "ARIA-256-CBC", "1.2.410.200046.1.1.12", 256, ARIAEngine::new, CURRENT),
    CAMELLIA_128(Scheme.PBES2, "CAMELLIA-128-CBC", "1.2.392.200011.61.1.1.1.2", 128, CamelliaEngine::new, CURRENT),
    CAMELLIA_192(Scheme.PBES2, "CAMELLIA-192-CBC", "1.2.392.200011.61.1.1.1.3", 192, CamelliaEngine::new, CURRENT),
    CAMELLIA_256(Scheme.PBES2, "CAMELLIA-256-CBC", "1.2.392.200011.61.1.1.1.4", 256, CamelliaEngine::new, CURRENT),
    SM4(Scheme.PBES2, "SM4-CBC", "1.2.156.10197.1.104.2", 128, SM4Engine::new, CURRENT),
    TRIPLE_DES(Scheme.PBES2, "3DES", "1.2.840.113549.3.7", 192, DESedeEngine::new, OLD),
    SINGLE_DES(Scheme.PBES2, "DES", "1.3.14.3.2.7", 64, DESEngine::new, REFUSED),
    STORE_3DES(Scheme.STORE, "3DES", "1.2.840.113549.1.12.1.3", 192, DESedeEngine::new, OLD),
    STORE_2DES(Scheme.STORE, "3DES", "1.2.840.113549.1.12.1.4", 128, DESedeEngine::new, OLD),
    STORE_RC2_128(Scheme.STORE, "RC2-128", "1.2.840.113549.1.12.1.5", 128, RC2Engine::new, REFUSED),
    STORE_RC2_40(Scheme.STORE, "RC2-40", "1.2.840.113549.1.12.1.6", 40, RC2Engine::new, REFUSED),
    STORE_RC4_128(Scheme.STREAM, "RC4-128", "1.2.840.113549.1.12.1.1", 128, () -> null, REFUSED),
    STORE_RC4_40(Scheme.STREAM, "RC4-40", "1.2.840.113549.1.12.1.2", 40, () -> null, REFUSED),
    DES_BY_MD5(Scheme.PBES1_MD5, "DES", "1.2.840.113549.1.5.3", 64, DESEngine::new, REFUSED),
    DES_BY_SHA1(Scheme.PBES1_SHA1, "DES", "1.2.840.113549.1.5.10", 64, DESEngine::new, REFUSED);

    /** How the key is made of the passphrase. */
    enum Scheme {
        PBES2,
        /** RFC 7292 appendix B. */
        STORE,
        /** The same for a cipher without blocks. */
        STREAM,
        PBES1_MD5,
        PBES1_SHA1
    }

    final Scheme scheme;
    final String words;
    final int bits;
    final Supplier<BlockCipher> engine;
    final LockAge age;
    private final ASN1ObjectIdentifier id;

    LockCipher(Scheme scheme, String words, String id, int bits, Supplier<BlockCipher> engine, LockAge age) {
        this.scheme = scheme;
        this.words = words;
        this.id = new ASN1ObjectIdentifier(id);
        this.bits = bits;
        this.engine = engine;
        this.age = age;
    }

    static Optional<LockCipher> of(ASN1ObjectIdentifier id) {
        return Stream.of(values()).filter(c -> c.id.equals(id)).findFirst();
    }
}
