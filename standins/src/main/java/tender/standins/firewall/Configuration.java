package tender.standins.firewall;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.PemText;
import tender.core.certificate.RevocationFacts;

/** The firewall's configuration document, and what each form of change does to it. */
final class Configuration {
    private Configuration() {}

    /** The document with each listener told to be active or not. */
    static JsonNode device(JsonNode written, JsonNode running) {
        ObjectNode out = written.deepCopy();
        for (JsonNode listener : out.path("listeners")) {
            JsonNode live = listener(running, listener.path("name").asText());
            boolean same = live != null && live.path("values").equals(listener.path("values"));
            boolean told = listener.path("values").has("active");
            if (!told || !same) {
                ((ObjectNode) listener.path("values")).put("active", same ? "yes" : "no");
            }
        }
        return out;
    }

    private static JsonNode listener(JsonNode document, String name) {
        for (JsonNode listener : document.path("listeners")) {
            if (listener.path("name").asText().equals(name)) {
                return listener;
            }
        }
        return null;
    }

    private static ObjectNode needed(ObjectNode document, String name) {
        JsonNode found = listener(document, name);
        if (found == null) {
            throw new ApiFault(400, "there is no such listener");
        }
        return (ObjectNode) found;
    }

    static void apply(ObjectNode document, JsonNode change) {
        switch (change.path("change").asText()) {
            case "set-listener" -> set(needed(document, change.path("listener").asText()), change.path("values"));
            case "add-listener" -> {
                ObjectNode copy =
                        needed(document, change.path("listener").asText()).deepCopy();
                copy.put("name", change.path("name").asText());
                set(copy, change.path("values"));
                ((ArrayNode) document.path("listeners")).add(copy);
            }
            case "remove-listener" -> remove(document, "listeners", "name", change.path("listener"));
            case "put-forward" -> forward(document, change.path("forward"));
            case "drop-forward" -> dropForward(document, change.path("port"));
            case "put-rule" -> rules(document).insert(change.path("number").asInt() - 1, change.path("rule"));
            case "replace-rule" -> rules(document).set(change.path("number").asInt() - 1, change.path("rule"));
            case "drop-rule" -> rules(document).remove(change.path("number").asInt() - 1);
            case "move-rule" -> {
                JsonNode rule = rules(document).remove(change.path("from").asInt() - 1);
                rules(document).insert(change.path("to").asInt() - 1, rule);
            }
            case "demote" ->
                document.path("accounts").forEach(account -> {
                    if (account.path("name").equals(change.path("account"))) {
                        ((ObjectNode) account).put("administers", false);
                    }
                });
            case "put-network" -> network(document, change.path("network"));
            case "set-zone" -> document.set("zone", change.path("zone"));
            case "renew-certificate" ->
                renew(needed(document, change.path("listener").asText()), change);
            case "renew-revocations" ->
                set(
                        needed(document, change.path("listener").asText()),
                        document.objectNode().set("revocation-list-expires", change.path("ends")));
            case "use-certificate" ->
                use(needed(document, change.path("listener").asText()), change);
            case "put-revocations" ->
                set(
                        needed(document, change.path("listener").asText()),
                        document.objectNode()
                                .put(
                                        "revocation-list-expires",
                                        RevocationFacts.of(der(change, "revocations"))
                                                .next()
                                                .orElseThrow()
                                                .toString()));
            case "set-clock", "reload" -> {}
            default -> throw new ApiFault(400, "there is no such form of change");
        }
    }

    private static byte[] der(JsonNode change, String field) {
        return PemText.read(change.path(field).asText()).blocks().get(0).der();
    }

    /** The document tells what the listener's new certificate says. */
    private static void use(ObjectNode listener, JsonNode change) {
        CertificateFacts facts = CertificateFacts.of(der(change, "certificate"));
        ((ObjectNode) listener.path("values"))
                .put("certificate-expires", facts.ends().toString())
                .put("server-names", String.join(", ", facts.names()))
                .put("authority", CertificateFacts.of(der(change, "authority")).fingerprint())
                .put(
                        "revocation-list-expires",
                        RevocationFacts.of(der(change, "revocations"))
                                .next()
                                .orElseThrow()
                                .toString())
                .remove("key-bits");
    }

    static void putAccount(ObjectNode document, String name) {
        for (JsonNode account : document.path("accounts")) {
            if (account.path("name").asText().equals(name)) {
                if (account.path("administers").asBoolean()) {
                    throw new ApiFault(409, name + " administers the firewall and is no account for callers");
                }
                ((ObjectNode) account).put("vpn", true);
                return;
            }
        }
        ((ArrayNode) document.path("accounts"))
                .addObject()
                .put("name", name)
                .put("vpn", true)
                .put("administers", false)
                .put("secondFactor", false);
    }

    static void dropAccount(ObjectNode document, String name) {
        remove(document, "accounts", "name", document.textNode(name));
    }

    private static void set(ObjectNode listener, JsonNode values) {
        values.fields().forEachRemaining(v -> ((ObjectNode) listener.path("values")).set(v.getKey(), v.getValue()));
    }

    private static void network(ObjectNode document, JsonNode network) {
        ArrayNode all = (ArrayNode) document.path("networks");
        for (int i = 0; i < all.size(); i++) {
            if (all.get(i).path("name").equals(network.path("name"))) {
                all.set(i, network);
                return;
            }
        }
        all.add(network);
    }

    /** Its own authority signs; the document tells what the new certificate says. */
    private static void renew(ObjectNode listener, JsonNode change) {
        ObjectNode values = (ObjectNode) listener.path("values");
        values.put("key-bits", change.path("keyBits").asText()).set("certificate-expires", change.path("ends"));
        if (!change.path("names").isEmpty()) {
            List<String> names = new ArrayList<>();
            change.path("names").forEach(n -> names.add(n.asText()));
            values.put("server-names", String.join(", ", names));
        }
    }

    private static ArrayNode rules(ObjectNode document) {
        return (ArrayNode) document.path("filter").path("rules");
    }

    private static boolean samePort(JsonNode forward, JsonNode port) {
        return forward.path("transport").equals(port.path("transport"))
                && forward.path("port").equals(port.path("port"));
    }

    private static void forward(ObjectNode document, JsonNode forward) {
        ArrayNode all = (ArrayNode) document.path("forwards");
        for (int i = 0; i < all.size(); i++) {
            if (samePort(all.get(i), forward)) {
                all.set(i, forward);
                return;
            }
        }
        all.add(forward);
    }

    private static void dropForward(ObjectNode document, JsonNode port) {
        ArrayNode all = (ArrayNode) document.path("forwards");
        for (int i = all.size() - 1; i >= 0; i--) {
            if (samePort(all.get(i), port)) {
                all.remove(i);
            }
        }
    }

    private static void remove(ObjectNode document, String list, String field, JsonNode value) {
        ArrayNode all = (ArrayNode) document.path(list);
        for (int i = all.size() - 1; i >= 0; i--) {
            if (all.get(i).path(field).equals(value)) {
                all.remove(i);
            }
        }
    }
}
