package tender.io.names;

import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.UnknownHostException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.xbill.DNS.AAAARecord;
import org.xbill.DNS.ARecord;
import org.xbill.DNS.ExtendedResolver;
import org.xbill.DNS.Lookup;
import org.xbill.DNS.Name;
import org.xbill.DNS.Record;
import org.xbill.DNS.Resolver;
import org.xbill.DNS.SimpleResolver;
import org.xbill.DNS.TextParseException;
import org.xbill.DNS.Type;
import org.xbill.DNS.hosts.HostsFileParser;
import tender.core.network.HostName;
import tender.core.network.IpAddress;

/** Asks a DNS server, or the system's file of hosts and its DNS server where none is set. Safe for several threads; keeps no cache. */
public final class DnsNameService implements NameService {
    private static final Duration TIMEOUT = Duration.ofSeconds(3);

    private static final List<IpAddress> LOOPBACK = List.of(IpAddress.parse("127.0.0.1"), IpAddress.parse("::1"));

    private final Resolver resolver;
    private final Optional<HostsFileParser> hosts;

    public DnsNameService(Optional<InetSocketAddress> server) throws UnknownHostException {
        resolver = server.isPresent() ? new SimpleResolver(server.get()) : new ExtendedResolver();
        resolver.setTimeout(TIMEOUT);
        hosts = server.isPresent() ? Optional.empty() : Optional.of(new HostsFileParser());
    }

    @Override
    public Answer lookUp(HostName name) {
        if (name.text().matches("(?i)(.+\\.)?localhost\\.?")) {
            return new Answer(Status.FOUND, LOOPBACK); // nobody is asked for it (RFC 6761 section 6.3)
        }
        List<IpAddress> written = written(name);
        if (!written.isEmpty()) {
            return new Answer(Status.FOUND, written);
        }
        List<IpAddress> found = new ArrayList<>();
        Status v4 = ask(name, Type.A, found);
        if (v4 == Status.UNKNOWN || v4 == Status.SILENT) {
            return new Answer(v4, List.of());
        }
        ask(name, Type.AAAA, found);
        return new Answer(found.isEmpty() ? Status.WITHOUT_ADDRESS : Status.FOUND, found);
    }

    /** What this machine's own file says of a name, which its programs look into first. */
    private List<IpAddress> written(HostName name) {
        List<IpAddress> out = new ArrayList<>();
        for (int type : new int[] {Type.A, Type.AAAA}) {
            try {
                if (hosts.isPresent()) {
                    hosts.get()
                            .getAddressForHost(absolute(name), type)
                            .ifPresent(a -> out.add(IpAddress.ofBytes(a.getAddress())));
                }
            } catch (IOException e) {
                return List.of(); // a machine without such a file asks its DNS server
            }
        }
        return out;
    }

    private Status ask(HostName name, int type, List<IpAddress> found) {
        Lookup lookup = new Lookup(absolute(name), type);
        lookup.setResolver(resolver);
        lookup.setCache(null);
        Record[] records = lookup.run();
        if (records != null) {
            for (Record record : records) {
                if (record instanceof ARecord a) {
                    found.add(IpAddress.ofBytes(a.getAddress().getAddress()));
                } else if (record instanceof AAAARecord aaaa) {
                    found.add(IpAddress.ofBytes(aaaa.getAddress().getAddress()));
                }
            }
        }
        return switch (lookup.getResult()) {
            case Lookup.SUCCESSFUL -> Status.FOUND;
            case Lookup.HOST_NOT_FOUND -> Status.UNKNOWN;
            case Lookup.TYPE_NOT_FOUND -> Status.WITHOUT_ADDRESS;
            default -> Status.SILENT;
        };
    }

    private static Name absolute(HostName name) {
        try {
            return Name.fromString(name.text() + ".");
        } catch (TextParseException e) {
            throw new IllegalStateException("a host name is a DNS name", e);
        }
    }
}
