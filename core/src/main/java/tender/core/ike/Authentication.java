package tender.core.ike;

import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.credential.RevealSecret;
import tender.core.wire.MalformedException;

/** A caller's authentication (RFC 7296 §1.2, §2.16): who it is, who the server is, EAP where the file has an account. */
final class Authentication {
    /** What an answer of the server's leads to. */
    sealed interface Step {}

    /** Something is to be said; {@code refused} where the server has let nobody in all the same. */
    record Say(List<Payload> payloads, Optional<String> refused) implements Step {}

    record Refused(String why) implements Step {}

    /** The server's proof does not hold. */
    record Broken(String why) implements Step {}

    /** Both are who they say; the tunnel is in the same answer. */
    record Through() implements Step {}

    private final IkeSettings settings;
    private final Agreed agreed;
    private final byte[] ownId;
    private final Optional<Eap> eap;
    private final List<byte[]> serverChain = new ArrayList<>();
    private byte[] serverId = new byte[0];
    private boolean proofHolds;
    private boolean trusted;

    Authentication(IkeSettings settings, Agreed agreed, SecureRandom random) {
        this.settings = settings;
        this.agreed = agreed;
        this.eap = isAccount(settings)
                ? Optional.of(new Eap(
                        settings.user().orElse(""),
                        settings.secret()
                                .map(s -> s.revealText(RevealSecret.TO_HANDSHAKE))
                                .orElse(""),
                        random))
                : Optional.empty();
        this.ownId = identity(settings).body();
    }

    private static boolean isAccount(IkeSettings settings) {
        return settings.proof().startsWith("eap");
    }

    private static Identification identity(IkeSettings settings) {
        return settings.identity()
                .map(Identification::parse)
                .orElseGet(() -> isAccount(settings) || settings.chain().isEmpty()
                        ? Identification.parse(settings.user().orElse("client"))
                        : Identification.ofSubject(settings.chain().get(0)));
    }

    /** The server's certificates, its own first. */
    List<byte[]> serverChain() {
        return List.copyOf(serverChain);
    }

    /** Who the server says it is. */
    Optional<Identification> serverId() {
        return serverId.length == 0 ? Optional.empty() : Optional.of(Identification.read(serverId));
    }

    boolean proofHolds() {
        return proofHolds;
    }

    /** Whether the server has proved itself. */
    boolean isTrusted() {
        return trusted;
    }

    /** The first thing to say; with it goes what is wanted of the tunnel. */
    List<Payload> introduction() {
        List<Payload> out = new ArrayList<>();
        out.add(new Payload(Payload.ID_INITIATOR, ownId));
        if (settings.proof().equals("pubkey")) {
            settings.chain().forEach(der -> out.add(Payload.certificate(der)));
        }
        if (!settings.authorities().isEmpty()) {
            out.add(Payload.certificateRequest(settings.authorities()));
        }
        settings.server()
                .ifPresent(s -> out.add(new Payload(
                        Payload.ID_RESPONDER, Identification.parse(s).body())));
        if (eap.isEmpty()) {
            out.add(prove().payload());
        }
        return out;
    }

    private Proof prove() {
        return settings.proof().equals("psk")
                ? agreed.shared(sharedSecret(), true, ownId)
                : Proof.signed(settings.key().orElseThrow(), agreed.octets(true, ownId), agreed.modern());
    }

    private byte[] sharedSecret() {
        return settings.secret()
                .map(s -> s.reveal(RevealSecret.TO_HANDSHAKE))
                .orElseThrow(() -> new MalformedException("secret", "own", "the shared secret was not given"));
    }

    Step on(List<Payload> payloads) {
        Optional<Notify> refusal = Notify.refusal(payloads);
        boolean first = serverId.length == 0;
        Message.one(payloads, Payload.ID_RESPONDER).ifPresent(p -> serverId = p.body());
        serverChain.addAll(Payload.certificates(payloads));
        Optional<Proof> proof = Message.one(payloads, Payload.AUTHENTICATION).map(Proof::read);
        if (proof.isPresent() && serverId.length > 0) {
            proofHolds = holds(proof.get(), first);
            if (!proofHolds) {
                return new Broken(notHeld(proof.get(), first));
            }
            trusted = true;
        }
        if (refusal.isPresent() && Message.one(payloads, Payload.SA).isEmpty()) {
            return new Refused(eap.flatMap(Eap::refused).orElse(refusal.get().name()));
        }
        return Message.one(payloads, Payload.EAP)
                .map(more -> onEap(more.body()))
                .orElseGet(Through::new);
    }

    private String notHeld(Proof proof, boolean first) {
        boolean secret = proof.method() == Proof.SHARED;
        boolean wanted = settings.serverProof().equals("psk");
        if (first && secret != wanted) {
            return secret
                    ? "the server authenticates with a shared secret" + IkeSettings.REQUIRES_OTHER + "a certificate"
                    : "the server authenticates with a certificate" + IkeSettings.REQUIRES_OTHER + "a shared secret";
        }
        return secret && first
                ? "the server authenticates with a different shared secret"
                : "the server's proof was not made with the key of its certificate";
    }

    private boolean holds(Proof proof, boolean first) {
        if (eap.isPresent() && !first) {
            return proof.is(agreed.shared(eap.get().key(), false, serverId));
        }
        boolean wantsSecret = settings.serverProof().equals("psk");
        if (proof.method() == Proof.SHARED) {
            return wantsSecret && proof.is(agreed.shared(sharedSecret(), false, serverId));
        }
        return !wantsSecret && !serverChain.isEmpty() && proof.isBy(serverChain.get(0), agreed.octets(false, serverId));
    }

    private Step onEap(byte[] packet) {
        if (eap.isEmpty()) {
            return new Refused("the server wants a name and password (EAP)");
        }
        if (settings.secret().isEmpty()) {
            // an empty password would count as a wrong one at the server
            return new Refused("no password was given, and no login was attempted");
        }
        Eap own = eap.get();
        Optional<byte[]> answer = own.onPacket(packet);
        if (answer.isPresent()) {
            return new Say(
                    List.of(new Payload(Payload.EAP, answer.get())),
                    own.refused().filter(r -> r.startsWith("EAP: ")));
        }
        return own.isDone() && own.refused().isEmpty()
                ? new Say(List.of(agreed.shared(own.key(), true, ownId).payload()), Optional.empty())
                : new Refused(own.refused().orElse("EAP ended without a key"));
    }
}
