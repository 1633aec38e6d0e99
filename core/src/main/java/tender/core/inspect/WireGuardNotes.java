package tender.core.inspect;

import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.InterfaceAddress;
import tender.core.profile.WireGuardFile;
import tender.core.profile.WireGuardRules;

/** What is said of a WireGuard file. */
final class WireGuardNotes {
    private static final int FEW = 3;

    private WireGuardNotes() {}

    static Inspection of(String name, WireGuardFile.Reading reading) {
        WireGuardFile file = reading.file();
        Inspection.Draft draft = new Inspection.Draft().problems(reading.problems());
        Optional<WireGuardFile.Interface> own = file.own();
        boolean server = own.flatMap(WireGuardFile.Interface::listenPort).isPresent()
                && file.peers().stream().allMatch(p -> p.endpoint().isEmpty());
        own.ifPresent(o -> own(o, draft, server));
        draft.fact(
                "its public key",
                own.flatMap(WireGuardFile.Interface::privateKey)
                        .map(k -> TunnelKeyPair.ofPrivate(k).publicKey().toString())
                        .orElse(""));
        claimedTwice(file, draft);
        own.flatMap(WireGuardFile.Interface::privateKey)
                .map(k -> TunnelKeyPair.ofPrivate(k).publicKey())
                .flatMap(file::peer)
                .ifPresent(p -> draft.note(Hint.KEY_OWN_AS_PEER, p.line(), ""));
        if (server) {
            draft.fact("admits", file.peers().size() + (file.peers().size() == 1 ? " device" : " devices"));
        } else {
            file.peers().forEach(p -> peer(p, draft));
            if (file.peers().isEmpty()) {
                draft.note(Hint.ENDPOINT_MISSING, 0, "no [Peer]");
            }
            reach(file, draft);
        }
        draft.refused(WireGuardRules.refusal(file.text()));
        dangerous(file, draft);
        return draft.done(name, server ? Inspection.Kind.WIREGUARD_SERVER : Inspection.Kind.WIREGUARD_CLIENT);
    }

    private static void claimedTwice(WireGuardFile file, Inspection.Draft draft) {
        Map<Cidr, Integer> first = new HashMap<>();
        for (int i = 0; i < file.peers().size(); i++) {
            for (InterfaceAddress a : file.peers().get(i).allowed()) {
                Integer before = first.putIfAbsent(a.network(), i);
                if (before != null && before != i) {
                    draft.note(
                            Hint.NETWORK_TWICE,
                            file.peers().get(i).line(),
                            a.network().toString());
                }
            }
        }
    }

    private static void own(WireGuardFile.Interface own, Inspection.Draft draft, boolean server) {
        draft.fact(
                "tunnel address", own.addresses().stream().map(Object::toString).collect(Collectors.joining(", ")));
        draft.fact("DNS servers", own.dns().stream().map(Object::toString).collect(Collectors.joining(", ")));
        own.listenPort().filter(p -> server).ifPresent(p -> draft.fact("waits on", "udp " + p));
        if (own.privateKey().isEmpty()) {
            draft.note(Hint.KEY_MISSING, own.line(), "no PrivateKey");
        } else {
            draft.note(Hint.KEY_OPEN, own.line(), "");
        }
        if (own.addresses().isEmpty()) {
            draft.note(Hint.TUNNEL_ADDRESS_MISSING, own.line(), "no Address");
        }
    }

    private static void peer(WireGuardFile.Peer peer, Inspection.Draft draft) {
        draft.fact("connects to", peer.endpoint().map(Endpoint::toString).orElse(""));
        peer.publicKey().ifPresent(k -> draft.fact("gateway's key", k.toString()));
        if (peer.endpoint().isEmpty()) {
            draft.note(Hint.ENDPOINT_MISSING, peer.line(), "no Endpoint");
            return;
        }
        Endpoint e = peer.endpoint().get();
        if (e.isPlaceholder()) {
            draft.note(Hint.ENDPOINT_PLACEHOLDER, peer.line(), e.host().toString());
        } else if (e.isPrivate()) {
            draft.note(Hint.ENDPOINT_PRIVATE, peer.line(), e.host().toString());
        } else if (e.host() instanceof Host.Literal) {
            draft.note(Hint.ENDPOINT_LITERAL, peer.line(), e.host().toString());
        }
        if (peer.presharedKey().isEmpty()) {
            draft.note(Hint.PRESHARED_MISSING, peer.line(), "");
        }
    }

    private static void reach(WireGuardFile file, Inspection.Draft draft) {
        List<Cidr> reach = file.peers().stream()
                .flatMap(p -> p.allowed().stream())
                .map(a -> a.network())
                .toList();
        boolean four = reach.contains(Cidr.EVERYTHING_V4);
        boolean six = reach.contains(Cidr.EVERYTHING_V6);
        String rest = reach.stream()
                .filter(n -> !n.isEverything())
                .limit(FEW * 4L)
                .map(Cidr::toString)
                .collect(Collectors.joining(", "));
        String all = four && six ? "everything" : four ? "all IPv4" : six ? "all IPv6" : "";
        draft.fact("through the tunnel", all + (all.isEmpty() || rest.isEmpty() ? "" : ", ") + rest);
        if (reach.isEmpty() && !file.peers().isEmpty()) {
            draft.note(Hint.REACH_MISSING, file.peers().get(0).line(), "no AllowedIPs");
        }
        if (four && !six) {
            draft.note(Hint.REACH_LEAKS_V6, file.peers().get(0).line(), "");
        }
    }

    private static void dangerous(WireGuardFile file, Inspection.Draft draft) {
        String[] lines = file.text().split("\n", -1);
        for (int i = 0; i < lines.length; i++) {
            String line = lines[i].strip();
            int equals = line.indexOf('=');
            if (equals < 0 || line.startsWith("#")) {
                continue;
            }
            switch (line.substring(0, equals).strip().toLowerCase(Locale.ROOT)) {
                case "preup", "postup", "predown", "postdown" -> draft.note(Hint.RUNS_PROGRAM, i + 1, line);
                case "saveconfig" -> draft.note(Hint.WRITES_FILE, i + 1, line);
                default -> {}
            }
        }
    }
}
