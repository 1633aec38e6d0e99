package tender.core.certificate;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.bouncycastle.crypto.BlockCipher;
import org.bouncycastle.crypto.BufferedBlockCipher;
import org.bouncycastle.crypto.CipherParameters;
import org.bouncycastle.crypto.DefaultBufferedBlockCipher;
import org.bouncycastle.crypto.InvalidCipherTextException;
import org.bouncycastle.crypto.engines.AESEngine;
import org.bouncycastle.crypto.engines.ARIAEngine;
import org.bouncycastle.crypto.engines.CamelliaEngine;
import org.bouncycastle.crypto.engines.DESedeEngine;
import org.bouncycastle.crypto.generators.OpenSSLPBEParametersGenerator;
import org.bouncycastle.crypto.modes.CBCBlockCipher;
import org.bouncycastle.crypto.modes.CFBBlockCipher;
import org.bouncycastle.crypto.modes.OFBBlockCipher;
import org.bouncycastle.crypto.paddings.PaddedBufferedBlockCipher;
import org.bouncycastle.crypto.params.ParametersWithIV;
import org.bouncycastle.openssl.PEMDecryptor;
import org.bouncycastle.openssl.PEMDecryptorProvider;
import org.bouncycastle.openssl.PEMException;
import org.bouncycastle.openssl.bc.BcPEMDecryptorProvider;
import org.bouncycastle.operator.OperatorCreationException;

/** Opens the oldest lock of a key in PEM, which its headers tell: DEK-Info with a cipher's name and its first block. */
final class OldestLock implements PEMDecryptorProvider {
    private static final Pattern CURRENT =
            Pattern.compile("(AES|ARIA|CAMELLIA)-(128|192|256)-(CBC|CFB|OFB)" + "|(DES)-(EDE3)-(CBC|CFB|OFB)");
    private static final int SALT_BYTES = 8;

    private final String passphrase;

    OldestLock(String passphrase) {
        this.passphrase = passphrase;
    }

    /** Its key is made in one round of MD5, so none of its ciphers counts as current. */
    static LockAge age(String cipher) {
        return CURRENT.matcher(cipher).matches() ? LockAge.OLD : LockAge.REFUSED;
    }

    @Override
    public PEMDecryptor get(String name) throws OperatorCreationException {
        Matcher m = CURRENT.matcher(name);
        if (!m.matches()) {
            return new BcPEMDecryptorProvider(passphrase.toCharArray()).get(name);
        }
        boolean des = m.group(1) == null;
        Supplier<BlockCipher> engine = switch (Optional.ofNullable(m.group(1)).orElse("DES")) {
            case "AES" -> AESEngine::newInstance;
            case "ARIA" -> ARIAEngine::new;
            case "CAMELLIA" -> CamelliaEngine::new;
            default -> DESedeEngine::new;
        };
        int bits = des ? 192 : Integer.parseInt(m.group(2));
        String mode = des ? m.group(6) : m.group(3);
        return (locked, iv) -> opened(engine.get(), bits, mode, locked, iv);
    }

    private byte[] opened(BlockCipher engine, int bits, String mode, byte[] locked, byte[] iv) throws PEMException {
        OpenSSLPBEParametersGenerator keys = new OpenSSLPBEParametersGenerator();
        keys.init(passphrase.getBytes(StandardCharsets.UTF_8), Arrays.copyOf(iv, SALT_BYTES));
        CipherParameters with = new ParametersWithIV(keys.generateDerivedParameters(bits), iv);
        int block = engine.getBlockSize() * 8;
        BufferedBlockCipher cipher = switch (mode) {
            case "CBC" -> new PaddedBufferedBlockCipher(CBCBlockCipher.newInstance(engine));
            case "CFB" -> new DefaultBufferedBlockCipher(CFBBlockCipher.newInstance(engine, block));
            default -> new DefaultBufferedBlockCipher(new OFBBlockCipher(engine, block));
        };
        cipher.init(false, with);
        byte[] out = new byte[cipher.getOutputSize(locked.length)];
        try {
            int length = cipher.processBytes(locked, 0, locked.length, out, 0);
            return Arrays.copyOf(out, length + cipher.doFinal(out, length));
        } catch (InvalidCipherTextException e) {
            throw new PEMException("another passphrase", e);
        }
    }
}
