package tender.core.certificate;

import java.io.IOException;
import java.io.StringReader;
import java.util.Optional;
import java.util.Set;
import org.bouncycastle.asn1.pkcs.PrivateKeyInfo;
import org.bouncycastle.openssl.PEMEncryptedKeyPair;
import org.bouncycastle.openssl.PEMKeyPair;
import org.bouncycastle.openssl.PEMParser;
import org.bouncycastle.pkcs.PKCS8EncryptedPrivateKeyInfo;
import tender.core.credential.Secret;
import tender.core.wire.Budget;
import tender.core.wire.MalformedException;

/** A private key in one of the forms that programs write: PKCS#8, locked PKCS#8, and the older PKCS#1 and SEC 1. */
public final class PrivateKeyFile {
    private static final Set<String> OLD_LABELS = Set.of("RSA PRIVATE KEY", "EC PRIVATE KEY", "DSA PRIVATE KEY");
    private static final int OLD_ROUNDS = 1;

    private final PemText.Block block;
    private final Optional<KeyProtection> protection;
    private final Optional<CertificateKey> open;

    private PrivateKeyFile(PemText.Block block, Optional<KeyProtection> protection, Optional<CertificateKey> open) {
        this.block = block;
        this.protection = protection;
        this.open = open;
    }

    public static boolean isKey(String label) {
        return label.equals("PRIVATE KEY") || label.equals("ENCRYPTED PRIVATE KEY") || OLD_LABELS.contains(label);
    }

    /**
     * @throws MalformedException where the key is damaged or of a kind that is not known
     */
    public static PrivateKeyFile of(PemText.Block block) {
        try {
            return read(block);
        } catch (IOException | RuntimeException e) {
            throw e instanceof MalformedException m
                    ? m
                    : new MalformedException("key", "", "the private key is damaged");
        }
    }

    private static PrivateKeyFile read(PemText.Block block) throws IOException {
        if (block.label().equals("ENCRYPTED PRIVATE KEY")) {
            KeyProtection how =
                    KeyProtection.of(new PKCS8EncryptedPrivateKeyInfo(block.der()).getEncryptionAlgorithm());
            return new PrivateKeyFile(block, Optional.of(how), Optional.empty());
        }
        if (block.headers().getOrDefault("Proc-Type", "").contains("ENCRYPTED")) {
            String cipher = block.headers().getOrDefault("DEK-Info", "").split(",")[0];
            return new PrivateKeyFile(
                    block,
                    Optional.of(new KeyProtection(cipher, OLD_ROUNDS, OldestLock.age(cipher))),
                    Optional.empty());
        }
        PrivateKeyInfo info = block.label().equals("PRIVATE KEY")
                ? PrivateKeyInfo.getInstance(block.der())
                : ((PEMKeyPair) parsed(block)).getPrivateKeyInfo();
        return new PrivateKeyFile(
                block, Optional.empty(), Optional.of(CertificateKey.ofPrivate(Secret.of(info.getEncoded()))));
    }

    private static Object parsed(PemText.Block block) throws IOException {
        StringBuilder text = new StringBuilder("-----BEGIN " + block.label() + "-----\n");
        block.headers().forEach((k, v) -> text.append(k).append(": ").append(v).append('\n'));
        if (!block.headers().isEmpty()) {
            text.append('\n');
        }
        String body = PemText.write(block.label(), block.der());
        text.append(body.substring(body.indexOf('\n') + 1));
        try (PEMParser parser = new PEMParser(new StringReader(text.toString()))) {
            Object out = parser.readObject();
            if (out == null) {
                throw new MalformedException("key", "", "the private key is damaged");
            }
            return out;
        }
    }

    /** How a passphrase locks it, where one does. */
    public Optional<KeyProtection> protection() {
        return protection;
    }

    /** The key, where nothing locks it. */
    public Optional<CertificateKey> key() {
        return open;
    }

    /** The key opened with a passphrase; empty where that is another. */
    public Optional<CertificateKey> open(String passphrase) {
        return open(passphrase, new Budget());
    }

    /** @param budget pays for the rounds before they are made */
    public Optional<CertificateKey> open(String passphrase, Budget budget) {
        if (open.isPresent()) {
            return open;
        }
        try {
            if (block.label().equals("ENCRYPTED PRIVATE KEY")) {
                return KeyProtection.open(new PKCS8EncryptedPrivateKeyInfo(block.der()), passphrase, budget);
            }
            PEMKeyPair pair = ((PEMEncryptedKeyPair) parsed(block)).decryptKeyPair(new OldestLock(passphrase));
            return Optional.of(
                    CertificateKey.ofPrivate(Secret.of(pair.getPrivateKeyInfo().getEncoded())));
        } catch (IOException | RuntimeException e) {
            if (e instanceof MalformedException m
                    && (m.code().equals("too-large") || m.what().contains("rounds"))) {
                throw m;
            }
            return Optional.empty();
        }
    }
}
