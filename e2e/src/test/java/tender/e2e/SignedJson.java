package tender.e2e;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Base64;
import java.util.UUID;
import tender.core.provision.SigningKey;
import tender.core.wire.Sha256;

/** Signed text as the documents describe it, made apart from the product's own code. */
final class SignedJson {
    private SignedJson() {}

    static String text(String type, SigningKey key, ObjectNode payload) {
        String header = "{\"alg\":\"EdDSA\",\"jwk\":{\"crv\":\"Ed25519\",\"kty\":\"OKP\",\"x\":\""
                + key.verifying().text() + "\"},\"typ\":\"" + type + "\"}";
        String text = base64(header.getBytes(StandardCharsets.UTF_8)) + "."
                + base64(payload.toString().getBytes(StandardCharsets.UTF_8));
        return text + "." + base64(key.sign(text.getBytes(StandardCharsets.US_ASCII)));
    }

    /** The header of a device's call without a body. */
    static String proof(SigningKey key, UUID enrolment, String method, String path) {
        ObjectNode payload = Tender.JSON.createObjectNode();
        payload.put("sub", enrolment.toString())
                .put("htm", method)
                .put("htu", path)
                .put("iat", Instant.now().getEpochSecond())
                .put("body", Sha256.hex(new byte[0]));
        return "Device " + text("tender-device", key, payload);
    }

    static String base64(byte[] bytes) {
        return Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
    }
}
