package tender.core.backup;

import java.io.IOException;
import java.security.SecureRandom;
import java.util.Collection;
import org.bouncycastle.asn1.cms.ContentInfo;
import org.bouncycastle.asn1.cms.PasswordRecipientInfo;
import org.bouncycastle.asn1.pkcs.PBKDF2Params;
import org.bouncycastle.cms.CMSAlgorithm;
import org.bouncycastle.cms.CMSAuthEnvelopedData;
import org.bouncycastle.cms.CMSAuthEnvelopedDataGenerator;
import org.bouncycastle.cms.CMSException;
import org.bouncycastle.cms.CMSProcessableByteArray;
import org.bouncycastle.cms.PasswordRecipient;
import org.bouncycastle.cms.RecipientInformation;
import org.bouncycastle.cms.jcajce.JceCMSContentEncryptorBuilder;
import org.bouncycastle.cms.jcajce.JcePasswordAuthEnvelopedRecipient;
import org.bouncycastle.cms.jcajce.JcePasswordRecipientInfoGenerator;
import org.bouncycastle.jce.provider.BouncyCastleProvider;
import org.bouncycastle.operator.OutputAEADEncryptor;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.wire.MalformedException;

/**
 * The form in which everything encrypted leaves Tender: CMS AuthEnvelopedData with AES-256-GCM and a password recipient
 * (RFC 5083, 5084, 3211), so that {@code openssl cms -decrypt} opens it without Tender.
 */
public final class Envelope {
    /** PBKDF2-HMAC-SHA256 rounds. */
    public static final int ROUNDS = 600_000;

    public static final int MIN_PASSPHRASE = 12;
    private static final int MAX_ROUNDS = 10_000_000;
    private static final int SALT_BYTES = 16;
    private static final BouncyCastleProvider BC = new BouncyCastleProvider();

    private Envelope() {}

    /** Encrypts under a passphrase of at least {@link #MIN_PASSPHRASE} characters. */
    public static byte[] seal(byte[] content, Secret passphrase, SecureRandom random) {
        char[] characters = passphrase.revealText(RevealSecret.TO_ENCRYPT).toCharArray();
        if (characters.length < MIN_PASSPHRASE) {
            throw new MalformedException(
                    "passphrase", "passphrase", "at least " + MIN_PASSPHRASE + " characters are needed");
        }
        byte[] salt = new byte[SALT_BYTES];
        random.nextBytes(salt);
        try {
            CMSAuthEnvelopedDataGenerator generator = new CMSAuthEnvelopedDataGenerator();
            generator.addRecipientInfoGenerator(
                    new JcePasswordRecipientInfoGenerator(CMSAlgorithm.AES256_CBC, characters)
                            .setProvider(BC)
                            .setPasswordConversionScheme(PasswordRecipient.PKCS5_SCHEME2_UTF8)
                            .setPRF(PasswordRecipient.PRF.HMacSHA256)
                            .setSaltAndIterationCount(salt, ROUNDS));
            OutputAEADEncryptor encryptor =
                    (OutputAEADEncryptor) new JceCMSContentEncryptorBuilder(CMSAlgorithm.AES256_GCM)
                            .setProvider(BC)
                            .setSecureRandom(random)
                            .build();
            return generator
                    .generate(new CMSProcessableByteArray(content), encryptor)
                    .toASN1Structure()
                    .getEncoded("DER");
        } catch (CMSException | IOException e) {
            throw new IllegalStateException("sealing cannot fail on its own output", e);
        }
    }

    /** Opens an envelope; a wrong passphrase and a changed byte look alike. */
    public static byte[] open(byte[] envelope, Secret passphrase) {
        try {
            CMSAuthEnvelopedData data = new CMSAuthEnvelopedData(envelope);
            Collection<RecipientInformation> recipients =
                    data.getRecipientInfos().getRecipients();
            if (recipients.size() != 1 || rounds(data) > MAX_ROUNDS) {
                throw new MalformedException(
                        "envelope", "", "not an envelope with one password recipient of bounded cost");
            }
            return recipients
                    .iterator()
                    .next()
                    .getContent(new JcePasswordAuthEnvelopedRecipient(passphrase
                                    .revealText(RevealSecret.TO_COMPARE)
                                    .toCharArray())
                            .setProvider(BC)
                            .setPasswordConversionScheme(PasswordRecipient.PKCS5_SCHEME2_UTF8));
        } catch (MalformedException e) {
            throw e;
        } catch (CMSException | RuntimeException | IOException e) {
            throw new MalformedException("envelope", "", "the passphrase is wrong, or the file was changed");
        }
    }

    private static int rounds(CMSAuthEnvelopedData data) throws IOException {
        ContentInfo info = data.toASN1Structure();
        var recipient = org.bouncycastle.asn1.cms.AuthEnvelopedData.getInstance(info.getContent())
                .getRecipientInfos()
                .getObjectAt(0);
        var password = PasswordRecipientInfo.getInstance(
                org.bouncycastle.asn1.cms.RecipientInfo.getInstance(recipient).getInfo());
        return PBKDF2Params.getInstance(password.getKeyDerivationAlgorithm().getParameters())
                .getIterationCount()
                .intValueExact();
    }
}
