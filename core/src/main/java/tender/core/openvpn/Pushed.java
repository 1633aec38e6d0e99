package tender.core.openvpn;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.network.IpAddress;
import tender.core.wire.MalformedException;

/** What a client took of the options that a server pushed; lines that are not understood are kept. */
public record Pushed(List<String> options) {
    private static final int MAX_OPTIONS = 500;

    public Pushed {
        options = List.copyOf(options);
    }

    public static final Pushed NOTHING = new Pushed(List.of());

    /** @param messages the texts behind {@code PUSH_REPLY,}, in order */
    static Pushed of(List<String> messages, PullRules rules) {
        return new Pushed(said(messages).stream().filter(rules::takes).toList());
    }

    /** The first option that a client ends the connection over. */
    static Optional<String> rejected(List<String> messages, PullRules rules) {
        return said(messages).stream().filter(rules::rejects).findFirst();
    }

    private static List<String> said(List<String> messages) {
        List<String> out = new ArrayList<>();
        for (String message : messages) {
            for (String option : message.split(",")) {
                if (!option.isBlank() && out.size() < MAX_OPTIONS) {
                    out.add(option.strip());
                }
            }
        }
        return out;
    }

    public Optional<String[]> first(String name) {
        return options.stream()
                .map(o -> o.split(" +"))
                .filter(w -> w[0].equals(name))
                .findFirst();
    }

    public boolean has(String name) {
        return first(name).isPresent();
    }

    private Optional<String> word(String name, int index) {
        return first(name).filter(w -> w.length > index).map(w -> w[index]);
    }

    /** The client's address in the tunnel. */
    public Optional<IpAddress> address() {
        return word("ifconfig", 1).flatMap(Pushed::address);
    }

    /** The client's address in the tunnel, of a family. */
    public Optional<IpAddress> address(IpAddress.Family family) {
        return family == IpAddress.Family.V4
                ? address()
                : word("ifconfig-ipv6", 1).map(w -> w.split("/")[0]).flatMap(Pushed::address);
    }

    /** The name server inside, of IPv4. */
    public Optional<IpAddress> dns() {
        return options.stream()
                .map(o -> o.split(" +"))
                .filter(w -> w.length > 2 && w[0].equals("dhcp-option") && w[1].equals("DNS"))
                .flatMap(w -> address(w[2]).stream())
                .filter(IpAddress::isV4)
                .findFirst();
    }

    /**
     * The server's address in the tunnel: told as the route's gateway, as a route to one host (where each client has a
     * network of four addresses the other end is nobody), or as the other end of a line of two; of IPv6 where there is no
     * IPv4.
     */
    public Optional<IpAddress> gateway() {
        return word("route-gateway", 1)
                .flatMap(Pushed::address)
                .or(() -> options.stream()
                        .map(o -> o.split(" +"))
                        .filter(w -> w[0].equals("route") && w.length == 2)
                        .flatMap(w -> address(w[1]).stream())
                        .findFirst())
                .or(() -> word("ifconfig", 2)
                        .flatMap(Pushed::address)
                        .filter(a -> !a.toString().startsWith("255.")))
                .or(() -> address().isEmpty() ? word("ifconfig-ipv6", 2).flatMap(Pushed::address) : Optional.empty());
    }

    /** What stands around packets, where the server says so. */
    Optional<Framing> framing() {
        return options.stream()
                .flatMap(o -> Framing.of(List.of(o.split(" +"))).stream())
                .findFirst();
    }

    public Optional<String> cipher() {
        return word("cipher", 1);
    }

    int peerId() {
        return word("peer-id", 1)
                .filter(w -> w.matches("[0-9]{1,8}"))
                .map(Integer::valueOf)
                .orElse(-1);
    }

    boolean exportsKeys() {
        return options.stream()
                .anyMatch(o ->
                        o.equals("key-derivation tls-ekm") || o.startsWith("protocol-flags") && o.contains("tls-ekm"));
    }

    private static Optional<IpAddress> address(String text) {
        try {
            return Optional.of(IpAddress.parse(text));
        } catch (MalformedException e) {
            return Optional.empty();
        }
    }
}
