package tender.core.trial;

import java.util.List;
import java.util.Optional;
import tender.core.network.IpAddress;
import tender.core.openvpn.Pushed;

/**
 * What a trial of an OpenVPN profile saw. Times are milliseconds, one for each rung that was reached.
 *
 * @param stage how far the connection came
 * @param closed whether the other side ended a TCP connection, or over UDP its port refuses after it had answered
 * @param serverDigest what the server says packets are protected by, where the cipher does not do that itself
 * @param broken why TLS could not go on
 * @param refused what the server said when it let nobody in
 * @param chain the server's certificates, its own first
 * @param proxySays what the proxy on the way said when it let nothing through
 * @param pushed what was taken of the server's options
 * @param bridged whether the server's tunnel carries frames of Ethernet and not packets
 * @param otherwise what answered when something else was tried, where the file itself got no answer
 * @param others how other places that the file calls fared, in words
 */
public record OpenVpnSeen(
        Observation.Name name,
        Optional<IpAddress> dialled,
        Observation.Path path,
        Stage stage,
        Optional<String> proxySays,
        boolean closed,
        Optional<String> broken,
        Optional<String> refused,
        List<byte[]> chain,
        boolean certificateAsked,
        Optional<String> tlsVersion,
        Optional<String> cipher,
        Optional<String> serverDigest,
        Optional<IpAddress> address,
        Optional<IpAddress> gatewayInside,
        Pushed pushed,
        Observation.Echo gateway,
        Observation.Echo inside,
        List<Long> millis,
        boolean bridged,
        Optional<Otherwise> otherwise,
        List<String> others) {
    /** How far it came. */
    public enum Stage {
        NOT_CALLED,
        CALLING,
        ANSWERED,
        TRUSTED,
        EXCHANGED,
        UP
    }

    public OpenVpnSeen {
        chain = List.copyOf(chain);
        millis = List.copyOf(millis);
        others = List.copyOf(others);
    }

    /** The same, with how other places of the file fared. */
    public OpenVpnSeen withOthers(List<String> told) {
        return new OpenVpnSeen(
                name,
                dialled,
                path,
                stage,
                proxySays,
                closed,
                broken,
                refused,
                chain,
                certificateAsked,
                tlsVersion,
                cipher,
                serverDigest,
                address,
                gatewayInside,
                pushed,
                gateway,
                inside,
                millis,
                bridged,
                otherwise,
                told);
    }

    boolean answersOtherwise(Otherwise.Kind kind) {
        return otherwise.filter(o -> o.kind() == kind).isPresent();
    }

    boolean came(Stage wanted) {
        return stage.compareTo(wanted) >= 0;
    }

    long millis(Rung rung) {
        return rung.ordinal() < millis.size() ? millis.get(rung.ordinal()) : 0;
    }
}
