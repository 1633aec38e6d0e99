package tender.core.sheet;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.IpAddress;
import tender.core.office.Protocol;

/**
 * What a sheet tells of one profile.
 *
 * @param server empty where only the file knows
 * @param serverId what the server's certificate must say
 * @param identity who the device says it is: the name in its certificate, or the account
 * @param byCertificate whether it authenticates with one
 * @param sharedSecret whether one secret of the office is asked for too
 * @param authority name and fingerprint of the authority that signed the server's certificate
 * @param file name of the file to import, or of the key store that holds the certificate
 */
public record Connection(
        String title,
        Protocol protocol,
        Optional<Endpoint> server,
        Optional<String> serverId,
        String identity,
        boolean byCertificate,
        boolean sharedSecret,
        Optional<Authority> authority,
        String file,
        List<Cidr> reach,
        List<IpAddress> dns,
        Optional<Instant> ends) {
    /** An authority as a person compares it. */
    public record Authority(String name, String fingerprint) {}

    public Connection {
        reach = List.copyOf(reach);
        dns = List.copyOf(dns);
    }

    boolean everything() {
        return reach.stream().anyMatch(Cidr::isEverything);
    }
}
