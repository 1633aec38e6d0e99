package tender.core.certificate;

import java.io.IOException;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.bouncycastle.asn1.ASN1ObjectIdentifier;
import org.bouncycastle.asn1.ASN1OctetString;
import org.bouncycastle.asn1.DERBMPString;
import org.bouncycastle.asn1.DEROctetString;
import org.bouncycastle.asn1.nist.NISTObjectIdentifiers;
import org.bouncycastle.asn1.pkcs.ContentInfo;
import org.bouncycastle.asn1.pkcs.EncryptedData;
import org.bouncycastle.asn1.pkcs.MacData;
import org.bouncycastle.asn1.pkcs.PKCSObjectIdentifiers;
import org.bouncycastle.asn1.pkcs.Pfx;
import org.bouncycastle.asn1.pkcs.PrivateKeyInfo;
import org.bouncycastle.asn1.x509.AlgorithmIdentifier;
import org.bouncycastle.cert.X509CertificateHolder;
import org.bouncycastle.crypto.ExtendedDigest;
import org.bouncycastle.jce.provider.BouncyCastleProvider;
import org.bouncycastle.operator.OperatorCreationException;
import org.bouncycastle.operator.OutputEncryptor;
import org.bouncycastle.operator.bc.BcDefaultDigestProvider;
import org.bouncycastle.pkcs.PKCS12PfxPdu;
import org.bouncycastle.pkcs.PKCS12PfxPduBuilder;
import org.bouncycastle.pkcs.PKCS12SafeBag;
import org.bouncycastle.pkcs.PKCS12SafeBagBuilder;
import org.bouncycastle.pkcs.PKCS12SafeBagFactory;
import org.bouncycastle.pkcs.PKCS8EncryptedPrivateKeyInfo;
import org.bouncycastle.pkcs.PKCSException;
import org.bouncycastle.pkcs.jcajce.JcePKCS12MacCalculatorBuilder;
import org.bouncycastle.pkcs.jcajce.JcePKCSPBEOutputEncryptorBuilder;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.wire.Budget;
import tender.core.wire.MalformedException;

/**
 * A PKCS#12 key store (RFC 7292). What locks it is told without the passphrase; what is inside needs it.
 *
 * @param protections how its parts are locked, as written
 * @param macRounds rounds of the integrity check, 0 where there is none
 */
public record KeyStoreFile(byte[] content, List<KeyProtection> protections, int macRounds) {
    private static final int MAX_BAGS = 500;
    private static final int ROUNDS = 100_000;
    private static final Set<ASN1ObjectIdentifier> OLD_CHECKS =
            Set.of(PKCSObjectIdentifiers.md2, PKCSObjectIdentifiers.md4);

    /** What was inside. */
    public record Opened(List<byte[]> certificates, Optional<CertificateKey> key) {}

    /**
     * Reads the frame of a PKCS#12 file (RFC 7292); {@code open} needs its passphrase.
     *
     * @throws MalformedException where it is no such file, or beyond what is read
     */
    public static KeyStoreFile of(byte[] content) {
        try {
            PKCS12PfxPdu pfx = new PKCS12PfxPdu(content);
            MacData mac = pfx.toASN1Structure().getMacData();
            List<KeyProtection> protections = new ArrayList<>();
            ContentInfo[] parts = pfx.getContentInfos();
            if (parts.length > MAX_BAGS) {
                throw new MalformedException("key-store", "", "more parts than are read");
            }
            for (ContentInfo part : parts) {
                if (part.getContentType().equals(PKCSObjectIdentifiers.encryptedData)) {
                    protections.add(KeyProtection.of(
                            EncryptedData.getInstance(part.getContent()).getEncryptionAlgorithm()));
                } else if (part.getContentType().equals(PKCSObjectIdentifiers.data)) {
                    for (PKCS12SafeBag bag : new PKCS12SafeBagFactory(part).getSafeBags()) {
                        if (bag.getBagValue() instanceof PKCS8EncryptedPrivateKeyInfo locked) {
                            protections.add(KeyProtection.of(locked.getEncryptionAlgorithm()));
                        }
                    }
                } else {
                    throw new MalformedException("key-store", "", "locked in a way that is not known");
                }
            }
            return new KeyStoreFile(
                    content,
                    List.copyOf(protections),
                    mac == null ? 0 : mac.getIterationCount().intValueExact());
        } catch (IOException | RuntimeException e) {
            throw e instanceof MalformedException m
                    ? m
                    : new MalformedException("key-store", "", "no sound PKCS#12 file");
        }
    }

    /** Whether bytes begin as a key store does: a sequence with the version 3 in front. */
    public static boolean looksLike(byte[] content) {
        try {
            return content.length > 20 && content[0] == 0x30 && Pfx.getInstance(content) != null;
        } catch (RuntimeException e) {
            return false;
        }
    }

    /** All rounds that opening it takes. */
    public long rounds() {
        return protections.stream().mapToLong(KeyProtection::rounds).sum() + macRounds;
    }

    /** Whether current programs do not open it, by its locks or by its check. */
    public boolean isRefused() {
        return protections.stream().anyMatch(KeyProtection::refused)
                || Optional.ofNullable(Pfx.getInstance(content).getMacData())
                        .map(m -> m.getMac().getAlgorithmId().getAlgorithm())
                        .filter(OLD_CHECKS::contains)
                        .isPresent();
    }

    public boolean isLegacy() {
        return protections.stream().anyMatch(KeyProtection::legacy);
    }

    /** What is inside; empty where the passphrase is another. */
    public Optional<Opened> open(String passphrase) {
        return open(passphrase, new Budget());
    }

    /** @param budget pays for the rounds before they are made */
    public Optional<Opened> open(String passphrase, Budget budget) {
        protections.forEach(KeyProtection::bounded);
        if (macRounds > KeyProtection.MOST_ROUNDS) {
            throw new MalformedException("key-store", "", "checked with more rounds than are tried");
        }
        for (Passphrase word : Passphrase.of(passphrase)) {
            budget.rounds(macRounds);
            Optional<Opened> opened = checks(word) ? opened(word, passphrase, budget) : Optional.empty();
            if (opened.isPresent()) {
                return opened;
            }
        }
        return Optional.empty();
    }

    private boolean checks(Passphrase word) {
        Pfx pfx = Pfx.getInstance(content);
        MacData mac = pfx.getMacData();
        if (mac == null) {
            return true;
        }
        try {
            ExtendedDigest digest =
                    BcDefaultDigestProvider.INSTANCE.get(mac.getMac().getAlgorithmId());
            return word.checks(
                    mac,
                    ASN1OctetString.getInstance(pfx.getAuthSafe().getContent()).getOctets(),
                    digest);
        } catch (OperatorCreationException | RuntimeException e) {
            return false;
        }
    }

    private Optional<Opened> opened(Passphrase decryptor, String passphrase, Budget budget) {
        budget.rounds(rounds() - macRounds);
        try {
            List<byte[]> certificates = new ArrayList<>();
            Optional<CertificateKey> key = Optional.empty();
            for (ContentInfo part : new PKCS12PfxPdu(content).getContentInfos()) {
                PKCS12SafeBagFactory bags = part.getContentType().equals(PKCSObjectIdentifiers.encryptedData)
                        ? new PKCS12SafeBagFactory(part, decryptor)
                        : new PKCS12SafeBagFactory(part);
                for (PKCS12SafeBag bag : bags.getSafeBags()) {
                    Object value = bag.getBagValue();
                    if (value instanceof X509CertificateHolder certificate) {
                        certificates.add(certificate.getEncoded());
                    } else if (value instanceof PKCS8EncryptedPrivateKeyInfo locked) {
                        key = KeyProtection.open(locked, passphrase, budget);
                        if (key.isEmpty()) {
                            return Optional.empty(); // certificates may lie open beside a key that is locked
                        }
                    } else if (value instanceof PrivateKeyInfo open) {
                        key = Optional.of(CertificateKey.ofPrivate(Secret.of(open.getEncoded())));
                    }
                }
            }
            return Optional.of(new Opened(List.copyOf(certificates), key));
        } catch (IOException | PKCSException | RuntimeException e) {
            if (e instanceof MalformedException m && m.code().equals("too-large")) {
                throw m;
            }
            return Optional.empty();
        }
    }

    /** How a new key store is locked. */
    public enum Form {
        /** AES-256 and SHA-256, which every current system opens. */
        MODERN,
        /** 3DES and SHA-1, for systems from before about 2019. */
        LEGACY
    }

    /**
     * A new key store with a key, its certificate first, and those of its authorities.
     *
     * @param name shown by systems that import it
     */
    public static byte[] write(
            Form form,
            String name,
            CertificateKey key,
            List<byte[]> certificates,
            String passphrase,
            SecureRandom random) {
        char[] word = passphrase.toCharArray();
        try {
            DEROctetString id = new DEROctetString(
                    java.util.HexFormat.of().parseHex(key.digest().substring(0, 40)));
            List<PKCS12SafeBag> bags = new ArrayList<>();
            for (int i = 0; i < certificates.size(); i++) {
                PKCS12SafeBagBuilder bag = new PKCS12SafeBagBuilder(new X509CertificateHolder(certificates.get(i)));
                if (i == 0) {
                    bag.addBagAttribute(PKCSObjectIdentifiers.pkcs_9_at_friendlyName, new DERBMPString(name));
                    bag.addBagAttribute(PKCSObjectIdentifiers.pkcs_9_at_localKeyId, id);
                }
                bags.add(bag.build());
            }
            PKCS12SafeBagBuilder keyBag = new PKCS12SafeBagBuilder(
                    PrivateKeyInfo.getInstance(key.privateKey().reveal(RevealSecret.TO_WRITE_FILE)),
                    encryptor(form, word, random));
            keyBag.addBagAttribute(PKCSObjectIdentifiers.pkcs_9_at_friendlyName, new DERBMPString(name));
            keyBag.addBagAttribute(PKCSObjectIdentifiers.pkcs_9_at_localKeyId, id);
            PKCS12PfxPduBuilder out = new PKCS12PfxPduBuilder();
            out.addEncryptedData(encryptor(form, word, random), bags.toArray(new PKCS12SafeBag[0]));
            out.addData(keyBag.build());
            JcePKCS12MacCalculatorBuilder mac = form == Form.MODERN
                    ? new JcePKCS12MacCalculatorBuilder(NISTObjectIdentifiers.id_sha256)
                    : new JcePKCS12MacCalculatorBuilder();
            return out.build(mac.setProvider(new BouncyCastleProvider()).setIterationCount(ROUNDS), word)
                    .getEncoded();
        } catch (IOException | PKCSException | OperatorCreationException e) {
            throw new IllegalStateException("a key store cannot be written", e);
        }
    }

    private static OutputEncryptor encryptor(Form form, char[] word, SecureRandom random)
            throws OperatorCreationException {
        return new JcePKCSPBEOutputEncryptorBuilder(
                        form == Form.MODERN
                                ? NISTObjectIdentifiers.id_aes256_CBC
                                : PKCSObjectIdentifiers.pbeWithSHAAnd3_KeyTripleDES_CBC)
                .setProvider(new BouncyCastleProvider())
                .setRandom(random)
                .setPRF(new AlgorithmIdentifier(
                        PKCSObjectIdentifiers.id_hmacWithSHA256, org.bouncycastle.asn1.DERNull.INSTANCE))
                .setIterationCount(ROUNDS)
                .build(word);
    }
}
