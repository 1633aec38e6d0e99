package tender.core.network;

/** What a client is told to call: a name or a literal address. */
public sealed interface Host permits HostName, Host.Literal {
    /** A literal address. */
    record Literal(IpAddress address) implements Host {
        @Override
        public String toString() {
            return address.toString();
        }
    }

    static Host parse(String text) {
        boolean numeric = text.indexOf(':') >= 0 || text.matches("[0-9.]+");
        return numeric ? new Literal(IpAddress.parse(text)) : HostName.parse(text);
    }
}
