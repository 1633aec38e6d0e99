package tender.standins.demo;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.PublicKey;
import java.security.spec.ECGenParameterSpec;
import org.apache.sshd.common.NamedResource;
import org.apache.sshd.common.config.keys.writer.openssh.OpenSSHKeyPairResourceWriter;
import org.apache.sshd.common.util.security.SecurityUtils;

/** The administrator's SSH key of a stand-in: made on first use, kept in OpenSSH's form readable by its owner alone. */
public final class AdminKey {
    private AdminKey() {}

    /** Makes the key file where there is none, and gives the public half. */
    public static PublicKey at(Path file) throws IOException, GeneralSecurityException {
        if (!Files.exists(file)) {
            Files.createDirectories(file.toAbsolutePath().getParent());
            Files.createFile(file, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
            Files.write(file, fresh());
        }
        try (ByteArrayInputStream in = new ByteArrayInputStream(Files.readAllBytes(file))) {
            return SecurityUtils.loadKeyPairIdentities(null, NamedResource.ofName("key"), in, null)
                    .iterator()
                    .next()
                    .getPublic();
        }
    }

    private static byte[] fresh() throws IOException, GeneralSecurityException {
        KeyPairGenerator generator = KeyPairGenerator.getInstance("EC");
        generator.initialize(new ECGenParameterSpec("secp256r1"));
        KeyPair pair = generator.generateKeyPair();
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        OpenSSHKeyPairResourceWriter.INSTANCE.writePrivateKey(pair, "keeper", null, out);
        return out.toByteArray();
    }
}
