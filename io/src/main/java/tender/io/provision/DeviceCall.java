package tender.io.provision;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Duration;
import java.time.Instant;
import java.util.UUID;
import tender.core.provision.SigningKey;
import tender.core.provision.VerifyingKey;
import tender.core.wire.MalformedException;
import tender.core.wire.Sha256;

/**
 * The proof that comes with a device's call, in the header {@code Authorization: Device PROOF}: signed text over the method, the path,
 * the time and the body, so that it serves for no other call.
 *
 * @param enrolment whose call it says to be; the key shows whether it is
 */
public record DeviceCall(UUID enrolment, VerifyingKey key, String method, String path, Instant at, String bodyDigest) {
    public static final String TYPE = "tender-device";
    public static final String SCHEME = "Device ";
    /** How far a device's clock may be off; it takes the service's time from the answer that says so. */
    public static final Duration CLOCK_LEEWAY = Duration.ofMinutes(5);

    public static String sign(SigningKey key, UUID enrolment, String method, String path, Instant at, byte[] body) {
        ObjectNode out = SignedText.JSON.createObjectNode();
        out.put("sub", enrolment.toString());
        out.put("htm", method);
        out.put("htu", path);
        out.put("iat", at.getEpochSecond());
        out.put("body", Sha256.hex(body));
        return SCHEME + SignedText.sign(TYPE, key, out);
    }

    /** @throws MalformedException where the header is none of a device, or its signature does not fit */
    public static DeviceCall read(String header) {
        if (header == null || !header.startsWith(SCHEME)) {
            throw new MalformedException("device-call", "Authorization", "is missing: the device's proof");
        }
        SignedText signed = SignedText.read(TYPE, header.substring(SCHEME.length()));
        JsonNode in = signed.payload();
        try {
            return new DeviceCall(
                    UUID.fromString(in.path("sub").asText()),
                    signed.signer(),
                    in.path("htm").asText(),
                    in.path("htu").asText(),
                    Instant.ofEpochSecond(in.path("iat").asLong()),
                    in.path("body").asText());
        } catch (IllegalArgumentException e) {
            throw new MalformedException("device-call", "sub", "is no enrolment");
        }
    }

    /** Whether it was signed for this call. */
    public boolean isFor(String wantedMethod, String wantedPath, byte[] body) {
        return method.equals(wantedMethod) && path.equals(wantedPath) && bodyDigest.equals(Sha256.hex(body));
    }

    /** Whether it was signed near a time. */
    public boolean isOf(Instant now) {
        return Duration.between(at, now).abs().compareTo(CLOCK_LEEWAY) <= 0;
    }
}
