package tender.core.proposal;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tender.core.certificate.CertificateFacts;
import tender.core.network.Host;
import tender.core.office.Protocol;
import tender.core.profile.OpenVpnFile;

/**
 * A name that a client file bears and that may be its owner's.
 *
 * @param source certificate, account, file name or folder
 * @param text as it stands there
 * @param named person and device as the name reads; empty where it names nobody
 */
public record OwnerName(String source, String text, Optional<NamedOwner> named) {
    /**
     * All of a file, the most telling first.
     *
     * @param words that name the gateway or its site, and nobody
     */
    public static List<OwnerName> of(ClientFile file, Set<String> words) {
        Map<String, Optional<String>> sources = new LinkedHashMap<>();
        sources.put(
                "certificate",
                file.certificates().stream()
                        .filter(c -> c.role() != CertificateFacts.Role.AUTHORITY)
                        .flatMap(c -> c.anyName().stream())
                        .findFirst());
        sources.put("account", account(file));
        sources.put("file name", Optional.of(file.stem()));
        sources.put("folder", Optional.of(file.folder()));
        Optional<NamedOwner.DeviceWord> elsewhere = NamedOwner.of(file.stem(), words)
                .flatMap(NamedOwner::device)
                .or(() -> NamedOwner.of(file.folder(), words).flatMap(NamedOwner::device));
        List<OwnerName> out = new ArrayList<>();
        sources.forEach((source, text) -> text.ifPresent(t ->
                out.add(new OwnerName(source, t, NamedOwner.of(t, words).map(n -> n.orOn(elsewhere))))));
        return out;
    }

    /** Words by which files and people's names may speak of a gateway. */
    public static Set<String> words(List<Host> hosts, String names) {
        return GatewayName.words(hosts, names);
    }

    private static Optional<String> account(ClientFile file) {
        return file.protocol() != Protocol.OPENVPN
                ? Optional.empty()
                : OpenVpnFile.read(file.text()).file().login().stream().findFirst();
    }
}
