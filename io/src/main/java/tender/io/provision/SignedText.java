package tender.io.provision;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.core.StreamReadFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import tender.core.provision.SigningKey;
import tender.core.provision.VerifyingKey;
import tender.core.wire.MalformedException;

/**
 * A JWS in compact form (RFC 7515 §7.1) with {@code EdDSA} over Ed25519 (RFC 8037), whose header says what it is and carries the public
 * key: that shows that nothing was altered, not who signed.
 *
 * @param type of what it holds, the header's {@code typ}
 * @param signer the key in its header, which its signature fits
 * @param payload a JSON object
 */
public record SignedText(String type, VerifyingKey signer, JsonNode payload) {
    /** The most that is read. */
    public static final int MAX_CHARACTERS = 16_384;

    private static final int MAX_DEPTH = 16;
    static final ObjectMapper JSON = new ObjectMapper(JsonFactory.builder()
            .streamReadConstraints(
                    StreamReadConstraints.builder().maxNestingDepth(MAX_DEPTH).build())
            .enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION)
            .build());
    private static final Base64.Encoder ENCODER = Base64.getUrlEncoder().withoutPadding();

    /** Signs a payload. */
    public static String sign(String type, SigningKey key, JsonNode payload) {
        String header = "{\"alg\":\"EdDSA\",\"jwk\":{\"crv\":\"Ed25519\",\"kty\":\"OKP\",\"x\":\""
                + key.verifying().text() + "\"},\"typ\":\"" + type + "\"}";
        try {
            String signed = ENCODER.encodeToString(header.getBytes(StandardCharsets.US_ASCII)) + "."
                    + ENCODER.encodeToString(JSON.writeValueAsBytes(payload));
            return signed + "." + ENCODER.encodeToString(key.sign(signed.getBytes(StandardCharsets.US_ASCII)));
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("a tree can always be written", e);
        }
    }

    /**
     * Reads one and checks its signature.
     *
     * @param type that is expected
     * @throws MalformedException with the code {@code altered} where the signature does not fit, else {@code signed-text}
     */
    public static SignedText read(String type, String text) {
        String compact = text.strip();
        String[] parts = compact.split("\\.", -1);
        if (compact.length() > MAX_CHARACTERS || parts.length != 3) {
            throw malformed("is no signed text: three parts with dots between them");
        }
        JsonNode header = object(parts[0], "header");
        if (!header.path("alg").asText().equals("EdDSA") || header.path("crit").size() > 0) {
            throw malformed("is signed in a way that this version does not know");
        }
        if (!header.path("typ").asText().equals(type)) {
            throw malformed(
                    "holds " + (header.has("typ") ? "something else" : "nothing that it names") + ", not " + type);
        }
        JsonNode jwk = header.path("jwk");
        if (!jwk.path("kty").asText().equals("OKP") || !jwk.path("crv").asText().equals("Ed25519")) {
            throw malformed("carries no public key of Ed25519");
        }
        VerifyingKey signer = VerifyingKey.ofText(jwk.path("x").asText());
        byte[] signed = (parts[0] + "." + parts[1]).getBytes(StandardCharsets.US_ASCII);
        if (!signer.verifies(signed, decoded(parts[2], "signature"))) {
            throw new MalformedException("altered", "", "was altered after it was signed: its signature does not fit");
        }
        return new SignedText(type, signer, object(parts[1], "payload"));
    }

    private static JsonNode object(String part, String place) {
        try {
            JsonNode node = JSON.readTree(decoded(part, place));
            if (!node.isObject()) {
                throw malformed(place + " is no JSON object");
            }
            return node;
        } catch (IOException e) {
            throw malformed(place + " is no JSON");
        }
    }

    private static byte[] decoded(String part, String place) {
        try {
            return Base64.getUrlDecoder().decode(part);
        } catch (IllegalArgumentException e) {
            throw malformed(place + " is not base64url");
        }
    }

    private static MalformedException malformed(String what) {
        return new MalformedException("signed-text", "", what);
    }
}
