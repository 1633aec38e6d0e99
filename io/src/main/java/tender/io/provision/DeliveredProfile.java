package tender.io.provision;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.UUID;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.wire.MalformedException;

/**
 * One revision of a profile as a device gets it, sealed to its key.
 *
 * @param file the client file, or the settings as text where the protocol has none
 * @param parts files beside it, by names that may be paths under its folder; their contents as they are on disk
 */
public record DeliveredProfile(
        UUID profile,
        String label,
        String gateway,
        String protocol,
        int revision,
        String title,
        String fileName,
        Secret file,
        List<Part> parts,
        List<String> steps) {
    /** The most that one is read of. */
    public static final int MAX_BYTES = 4 * 1024 * 1024;

    public record Part(String name, Secret content) {}

    /** What the sealing of one is bound to. */
    public static String place(UUID enrolment, UUID profile, int revision) {
        return enrolment + "/" + profile + "/" + revision;
    }

    public byte[] write() {
        ObjectNode out = SignedText.JSON.createObjectNode();
        out.put("v", 1)
                .put("profile", profile.toString())
                .put("label", label)
                .put("gateway", gateway)
                .put("protocol", protocol)
                .put("revision", revision)
                .put("title", title)
                .put("fileName", fileName)
                .put("file", base64(file));
        ArrayNode beside = out.putArray("parts");
        parts.forEach(p -> beside.addObject().put("name", p.name()).put("content", base64(p.content())));
        ArrayNode told = out.putArray("steps");
        steps.forEach(told::add);
        try {
            return SignedText.JSON.writeValueAsBytes(out);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("a tree can always be written", e);
        }
    }

    /** @throws MalformedException where it is none */
    public static DeliveredProfile read(byte[] json) {
        try {
            JsonNode in = SignedText.JSON.readTree(json);
            List<Part> parts = new ArrayList<>();
            in.path("parts").forEach(p -> parts.add(new Part(p.path("name").asText(), content(p.path("content")))));
            List<String> steps = new ArrayList<>();
            in.path("steps").forEach(s -> steps.add(s.asText()));
            return new DeliveredProfile(
                    UUID.fromString(in.path("profile").asText()),
                    in.path("label").asText(),
                    in.path("gateway").asText(),
                    in.path("protocol").asText(),
                    in.path("revision").asInt(),
                    in.path("title").asText(),
                    in.path("fileName").asText(),
                    content(in.path("file")),
                    parts,
                    steps);
        } catch (IOException | IllegalArgumentException e) {
            throw new MalformedException("delivery", "", "is no profile of Tender's");
        }
    }

    private static Secret content(JsonNode base64) {
        return Secret.of(Base64.getDecoder().decode(base64.asText().getBytes(StandardCharsets.US_ASCII)));
    }

    private static String base64(Secret content) {
        return Base64.getEncoder().encodeToString(content.reveal(RevealSecret.TO_HAND_OUT));
    }
}
