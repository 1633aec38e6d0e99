package tender.io.provision;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.provision.SigningKey;
import tender.core.wire.MalformedException;

class ProvisioningFileTest {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final Instant ENDS = Instant.parse("2027-01-20T10:00:00Z");
    private final SigningKey key = SigningKey.generate(RANDOM);

    private static ProvisioningFile file() {
        return new ProvisioningFile(
                List.of(
                        URI.create("https://vpn.skerrivane.example"),
                        URI.create("https://second.skerrivane.example:8451")),
                Secret.of("0123456789abcdefghijklmnopqrstuvwxyzABCDEFG"),
                ENDS,
                true,
                Optional.of("mara"),
                Optional.of("laptop"),
                Optional.empty(),
                List.of(new ProvisioningFile.Gateway("pier2", "wireguard", "pier2.skerrivane.example:51820/udp")),
                List.of());
    }

    private ObjectNode payload() {
        return SignedText.JSON
                .createObjectNode()
                .put("v", 1)
                .put("exp", ENDS.getEpochSecond())
                .put("token", "t")
                .set("services", SignedText.JSON.createArrayNode().add("https://vpn.skerrivane.example"));
    }

    private String signed(ObjectNode payload) {
        return SignedText.sign(ProvisioningFile.TYPE, key, payload);
    }

    @Test
    void whatIsWrittenIsReadAndFitsAQrCode() {
        String text = file().sign(key);
        ProvisioningFile.Signed read = ProvisioningFile.read(text);
        assertThat(read.signer()).isEqualTo(key.verifying());
        assertThat(read.file())
                .usingRecursiveComparison()
                .ignoringFields("token")
                .isEqualTo(file());
        assertThat(read.file().token().revealText(RevealSecret.TO_COMPARE))
                .isEqualTo(file().token().revealText(RevealSecret.TO_COMPARE));
        assertThat(text.length()).isLessThan(1_000);
    }

    @Test
    void opensslBelievesTheSignature(@TempDir Path folder) throws Exception {
        String[] parts = file().sign(key).strip().split("\\.");
        byte[] prefix = {0x30, 0x2a, 0x30, 0x05, 0x06, 0x03, 0x2b, 0x65, 0x70, 0x03, 0x21, 0x00}; // RFC 8410 §4
        byte[] der = Arrays.copyOf(prefix, prefix.length + 32);
        System.arraycopy(key.verifying().bytes(), 0, der, prefix.length, 32);
        Path pub = Files.write(folder.resolve("key.der"), der);
        Path message = Files.writeString(folder.resolve("message"), parts[0] + "." + parts[1]);
        Path signature =
                Files.write(folder.resolve("signature"), Base64.getUrlDecoder().decode(parts[2]));
        Process openssl = new ProcessBuilder(
                        "openssl",
                        "pkeyutl",
                        "-verify",
                        "-pubin",
                        "-keyform",
                        "DER",
                        "-inkey",
                        pub.toString(),
                        "-rawin",
                        "-in",
                        message.toString(),
                        "-sigfile",
                        signature.toString())
                .redirectErrorStream(true)
                .start();
        String said = new String(openssl.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(openssl.waitFor()).as(said).isZero();
    }

    @Test
    void everyAlteredCharacterIsNoticed() {
        String text = file().sign(key).strip();
        for (int i = 0; i < text.length(); i++) {
            char other = text.charAt(i) == 'A' ? 'B' : 'A';
            String altered = text.substring(0, i) + other + text.substring(i + 1);
            if (!sameBytes(text, altered)) {
                assertThatThrownBy(() -> ProvisioningFile.read(altered))
                        .as("character %d", i)
                        .isInstanceOf(MalformedException.class);
            }
        }
    }

    /** The last character of a part may hold bits that count for nothing. */
    private static boolean sameBytes(String one, String other) {
        String[] a = one.split("\\.");
        String[] b = other.split("\\.", -1);
        try {
            return b.length == 3
                    && a[0].equals(b[0])
                    && a[1].equals(b[1])
                    && Arrays.equals(
                            Base64.getUrlDecoder().decode(a[2]),
                            Base64.getUrlDecoder().decode(b[2]));
        } catch (IllegalArgumentException e) {
            return false;
        }
    }

    @Test
    void anAlteredFileIsToldFromOneThatIsNone() {
        String[] parts = file().sign(key).strip().split("\\.");
        String other = file().sign(SigningKey.generate(RANDOM)).strip().split("\\.")[1];
        assertThatThrownBy(() -> ProvisioningFile.read(
                        parts[0] + "." + other.substring(0, other.length() - 4) + "AAAA." + parts[2]))
                .hasMessageContaining("altered after it was signed");
        assertThatThrownBy(() -> ProvisioningFile.read("client\ndev tun\n")).hasMessageContaining("no signed text");
        assertThatThrownBy(() -> ProvisioningFile.read(SignedText.sign("another-type", key, payload())))
                .hasMessageContaining("something else");
    }

    @Test
    void membersOfNewerVersionsAreLeftAlone() {
        ObjectNode newer = payload().put("v", 2).put("colour", "green");
        newer.putObject("later").put("x", 1);
        assertThat(ProvisioningFile.read(signed(newer)).file().services()).hasSize(1);
        assertThatThrownBy(() -> ProvisioningFile.read(signed(payload().put("asks", "fingerprint"))))
                .hasMessageContaining("asks");
    }

    @Test
    void eachMissingOrWrongMemberIsNamed() {
        for (String member : List.of("v", "exp", "services", "token")) {
            ObjectNode without = payload();
            without.remove(member);
            assertThatThrownBy(() -> ProvisioningFile.read(signed(without))).hasMessageContaining(member);
        }
        ObjectNode script = payload();
        script.putArray("services").add("javascript:alert(1)");
        assertThatThrownBy(() -> ProvisioningFile.read(signed(script))).hasMessageContaining("services");
        ObjectNode deep = payload();
        ObjectNode at = deep;
        for (int i = 0; i < 40; i++) {
            at = at.putObject("d");
        }
        assertThatThrownBy(() -> ProvisioningFile.read(signed(deep))).isInstanceOf(MalformedException.class);
    }

    @Test
    void aDevicesProofServesForOneCallAndNotForLong() {
        UUID enrolment = UUID.randomUUID();
        Instant now = Instant.parse("2026-12-01T10:00:00Z");
        byte[] body = {1, 2, 3};
        DeviceCall call = DeviceCall.read(DeviceCall.sign(key, enrolment, "POST", "/device/report", now, body));
        assertThat(call.enrolment()).isEqualTo(enrolment);
        assertThat(call.key()).isEqualTo(key.verifying());
        assertThat(call.isFor("POST", "/device/report", body)).isTrue();
        assertThat(call.isFor("DELETE", "/device/report", body)).isFalse();
        assertThat(call.isFor("POST", "/device", body)).isFalse();
        assertThat(call.isFor("POST", "/device/report", new byte[] {1, 2})).isFalse();
        assertThat(call.isOf(now.plus(Duration.ofMinutes(5)))).isTrue();
        assertThat(call.isOf(now.plus(Duration.ofMinutes(6)))).isFalse();
        assertThat(call.isOf(now.minus(Duration.ofMinutes(6)))).isFalse();
        assertThatThrownBy(() -> DeviceCall.read(DeviceCall.SCHEME + file().sign(key)))
                .hasMessageContaining("something else");
        assertThatThrownBy(() -> DeviceCall.read(null)).isInstanceOf(MalformedException.class);
    }

    @Test
    void aDeliveredProfileIsReadAsItWasWritten() {
        DeliveredProfile profile = new DeliveredProfile(
                UUID.randomUUID(),
                "mara-laptop-pier2",
                "pier2",
                "wireguard",
                3,
                "pier2",
                "pier2.conf",
                Secret.of("[Interface]\n"),
                List.of(new DeliveredProfile.Part("keys/a.p12", Secret.of(new byte[] {0, (byte) 0xff, 7}))),
                List.of("Open the file."));
        DeliveredProfile read = DeliveredProfile.read(profile.write());
        assertThat(read)
                .usingRecursiveComparison()
                .ignoringFields("file", "parts")
                .isEqualTo(profile);
        assertThat(read.file().revealText(RevealSecret.TO_COMPARE)).isEqualTo("[Interface]\n");
        assertThat(read.parts().get(0).content().reveal(RevealSecret.TO_COMPARE))
                .containsExactly(0, 0xff, 7);
        assertThatThrownBy(() -> DeliveredProfile.read("[]".getBytes(StandardCharsets.UTF_8)))
                .isInstanceOf(MalformedException.class);
    }
}
