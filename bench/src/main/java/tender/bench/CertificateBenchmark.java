package tender.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import org.bouncycastle.asn1.sec.SECObjectIdentifiers;
import org.bouncycastle.crypto.AsymmetricCipherKeyPair;
import org.bouncycastle.crypto.digests.SHA256Digest;
import org.bouncycastle.crypto.generators.ECKeyPairGenerator;
import org.bouncycastle.crypto.params.ECKeyGenerationParameters;
import org.bouncycastle.crypto.params.ECNamedDomainParameters;
import org.bouncycastle.crypto.params.ParametersWithRandom;
import org.bouncycastle.crypto.signers.DSADigestSigner;
import org.bouncycastle.crypto.signers.ECDSASigner;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.inspect.Inspector;

/** A client certificate with its key against the bare key pair and signature; an exported file inspected against its certificate parsed. */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.Throughput)
@OutputTimeUnit(TimeUnit.SECONDS)
public class CertificateBenchmark {
    private final SecureRandom random = new SecureRandom();
    private final Instant now = Instant.parse("2026-11-23T12:00:00Z");
    private Authority authority;
    private AsymmetricCipherKeyPair signingPair;
    private final byte[] toSign = new byte[400];
    private byte[] file;

    @Setup
    public void setUp() throws IOException {
        authority = Authority.make(
                "Bench",
                CertificateKey.generate(CertificateKey.Kind.EC_P256, random),
                now,
                now.plus(Duration.ofDays(900)),
                random);
        signingPair = pair();
        file = Files.readAllBytes(Path.of("core/src/test/resources/corpus/openvpn/good.ovpn"));
    }

    private AsymmetricCipherKeyPair pair() {
        ECKeyPairGenerator generator = new ECKeyPairGenerator();
        generator.init(
                new ECKeyGenerationParameters(ECNamedDomainParameters.lookup(SECObjectIdentifiers.secp256r1), random));
        return generator.generateKeyPair();
    }

    @Benchmark
    public Object keyPairAndSignatureAlone() {
        pair();
        DSADigestSigner signer = new DSADigestSigner(new ECDSASigner(), new SHA256Digest());
        signer.init(true, new ParametersWithRandom(signingPair.getPrivate(), random));
        signer.update(toSign, 0, toSign.length);
        return signer.generateSignature();
    }

    @Benchmark
    public Object clientCertificateWithItsKey() {
        CertificateKey key = CertificateKey.generate(CertificateKey.Kind.EC_P256, random);
        return authority.sign(
                Authority.Purpose.CLIENT,
                "mara-laptop-orrin-fw",
                List.of(),
                key.publicKey(),
                now,
                now.plus(Duration.ofDays(365)),
                Optional.empty(),
                random);
    }

    @Benchmark
    public Object exportedFileInspected() {
        return Inspector.of("good.ovpn", file, now, Optional.empty());
    }

    @Benchmark
    public Object itsCertificatesParsedAlone() {
        return PemText.read(new String(file, java.nio.charset.StandardCharsets.ISO_8859_1)).blocks().stream()
                .filter(b -> b.label().equals("CERTIFICATE"))
                .map(b -> CertificateFacts.of(b.der()))
                .toList();
    }
}
