package tender.io.provision;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.net.URI;
import java.net.URISyntaxException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.provision.SigningKey;
import tender.core.provision.VerifyingKey;
import tender.core.wire.MalformedException;

/**
 * What a device joins with; {@code docs/provisioning.md} describes the format. Members that a newer version knows are left alone.
 *
 * @param services where the service answers devices, in order of priority; at least one
 * @param token of the enrolment
 * @param ends when the token ends
 * @param asksCode whether a code is asked for that the person was told another way
 * @param person handle of whose device it is; empty where every member of a team joins with the file
 * @param device its name; empty where whoever joins names it
 * @param team whose members join with it
 * @param gateways that there will be profiles for, in order of priority
 * @param authorities SHA-256 fingerprints, in hexadecimal, of certificates that a service may rest on beside the device's own authorities
 */
public record ProvisioningFile(
        List<URI> services,
        Secret token,
        Instant ends,
        boolean asksCode,
        Optional<String> person,
        Optional<String> device,
        Optional<String> team,
        List<Gateway> gateways,
        List<String> authorities) {
    /** The header's {@code typ}. */
    public static final String TYPE = "tender-provision";

    public static final int VERSION = 1;

    private static final int MAX_ITEMS = 64;
    private static final Set<String> SCHEMES = Set.of("http", "https");

    /** Where a profile leads. */
    public record Gateway(String name, String protocol, String endpoint) {}

    public ProvisioningFile {
        services = List.copyOf(services);
        gateways = List.copyOf(gateways);
        authorities = List.copyOf(authorities);
    }

    /** One that was read, and whose key signed it. */
    public record Signed(ProvisioningFile file, VerifyingKey signer) {}

    /** The file's text. */
    public String sign(SigningKey key) {
        ObjectNode out = SignedText.JSON.createObjectNode();
        out.put("v", VERSION);
        out.put("exp", ends.getEpochSecond());
        ArrayNode at = out.putArray("services");
        services.forEach(s -> at.add(s.toString()));
        out.put("token", token.revealText(RevealSecret.TO_HAND_OUT));
        if (asksCode) {
            out.put("asks", "code");
        }
        person.ifPresent(p -> out.put("person", p));
        device.ifPresent(d -> out.put("device", d));
        team.ifPresent(t -> out.put("team", t));
        if (!gateways.isEmpty()) {
            ArrayNode all = out.putArray("gateways");
            gateways.forEach(g -> all.addObject()
                    .put("name", g.name())
                    .put("protocol", g.protocol())
                    .put("endpoint", g.endpoint()));
        }
        if (!authorities.isEmpty()) {
            ArrayNode all = out.putArray("authorities");
            authorities.forEach(all::add);
        }
        return SignedText.sign(TYPE, key, out) + "\n";
    }

    /**
     * Reads one and checks its signature and its members; whether it has ended is the caller's question.
     *
     * @throws MalformedException that says which member is wrong, and how
     */
    public static Signed read(String text) {
        SignedText signed = SignedText.read(TYPE, text);
        JsonNode in = signed.payload();
        if (!in.path("v").canConvertToInt() || in.path("v").asInt() < 1) {
            throw new MalformedException("provision", "v", "is missing: the version of the format");
        }
        if (!in.path("exp").canConvertToLong()) {
            throw new MalformedException("provision", "exp", "is missing: when the token ends, in seconds since 1970");
        }
        return new Signed(
                new ProvisioningFile(
                        services(in.path("services")),
                        Secret.of(word(in, "token")
                                .orElseThrow(() -> new MalformedException(
                                        "provision", "token", "is missing: the enrolment token"))),
                        Instant.ofEpochSecond(in.path("exp").asLong()),
                        asksCode(in),
                        word(in, "person"),
                        word(in, "device"),
                        word(in, "team"),
                        gateways(in.path("gateways")),
                        words(in.path("authorities"), "authorities")),
                signed.signer());
    }

    private static boolean asksCode(JsonNode in) {
        Optional<String> asks = word(in, "asks");
        if (asks.filter(a -> !a.equals("code")).isPresent()) {
            throw new MalformedException("provision", "asks", "wants a way to sign in that this version does not know");
        }
        return asks.isPresent();
    }

    private static List<URI> services(JsonNode in) {
        List<URI> out = new ArrayList<>();
        for (String text : words(in, "services")) {
            try {
                URI uri = new URI(text);
                if (uri.getHost() == null || !SCHEMES.contains(uri.getScheme())) {
                    throw new MalformedException(
                            "provision", "services", "holds no address of a service: https://HOST");
                }
                out.add(uri);
            } catch (URISyntaxException e) {
                throw new MalformedException("provision", "services", "holds no address of a service: https://HOST");
            }
        }
        if (out.isEmpty()) {
            throw new MalformedException(
                    "provision", "services", "is missing: where the service answers, https://HOST");
        }
        return out;
    }

    private static List<Gateway> gateways(JsonNode in) {
        List<Gateway> out = new ArrayList<>();
        for (JsonNode g : in) {
            if (out.size() < MAX_ITEMS) {
                out.add(new Gateway(
                        g.path("name").asText(),
                        g.path("protocol").asText(),
                        g.path("endpoint").asText()));
            }
        }
        return out;
    }

    private static Optional<String> word(JsonNode in, String member) {
        JsonNode value = in.path(member);
        if (!value.isMissingNode() && !value.isNull() && !value.isTextual()) {
            throw new MalformedException("provision", member, "is no text");
        }
        return Optional.ofNullable(value.textValue()).filter(t -> !t.isBlank());
    }

    private static List<String> words(JsonNode in, String member) {
        List<String> out = new ArrayList<>();
        for (JsonNode value : in) {
            if (!value.isTextual() || out.size() == MAX_ITEMS) {
                throw new MalformedException("provision", member, "is no list of at most " + MAX_ITEMS + " texts");
            }
            out.add(value.textValue());
        }
        return out;
    }
}
