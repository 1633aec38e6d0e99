package tender.service.certificate;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import tender.core.backup.Snapshot;
import tender.core.certificate.CertificateFacts;
import tender.core.device.SharedClientSettings;
import tender.core.office.Device;
import tender.core.office.Protocol;
import tender.core.wire.MalformedException;
import tender.service.device.DeviceDescriptions;
import tender.service.gateway.GatewayReading;
import tender.store.certificate.Authorities;
import tender.store.certificate.Certificates;
import tender.store.certificate.Revocations;
import tender.store.jdbc.Tx;
import tender.store.office.Gateways;
import tender.store.office.Listeners;

/** Compares the revocation lists that were just read at a gateway with what its authority has revoked. */
final class ListsRead implements GatewayReading.Conclusion {
    private final DeviceDescriptions descriptions;

    ListsRead(DeviceDescriptions descriptions) {
        this.descriptions = descriptions;
    }

    @Override
    public void draw(Tx tx, Gateways.Gateway gateway, Snapshot snapshot, Device device, Instant asOf) {
        Map<String, Authorities.Authority> authorities = Authorities.all(tx).stream()
                .collect(Collectors.toMap(
                        a -> CertificateFacts.of(a.certificate()).fingerprint(), Function.identity(), (a, b) -> a));
        if (authorities.isEmpty()) {
            return;
        }
        for (Listeners.Listener l : Listeners.of(tx, List.of(gateway.id()))) {
            if (l.protocol().equals(Protocol.OPENVPN.word()) && !l.gone()) {
                missing(tx, gateway, snapshot, l, authorities, asOf)
                        .ifPresent(serials -> Listeners.missingSerials(tx, l.id(), serials));
            }
        }
    }

    /** Empty where the listener believes nobody of ours, or cannot be told. */
    private Optional<Set<String>> missing(
            Tx tx,
            Gateways.Gateway gateway,
            Snapshot snapshot,
            Listeners.Listener l,
            Map<String, Authorities.Authority> authorities,
            Instant asOf) {
        try {
            SharedClientSettings shared = gateway.connector().equals("https")
                    ? SharedClientSettings.ofGatewayApi(snapshot.files(), l.name())
                    : SharedClientSettings.of(
                            descriptions.description(gateway.description()), snapshot.files(), l.name());
            Authorities.Authority a =
                    authorities.get(CertificateFacts.of(shared.authority()).fingerprint());
            if (a == null) {
                return Optional.empty();
            }
            Set<String> out = Revocations.all(tx, a.id(), asOf).stream()
                    .filter(r -> r.at().isBefore(asOf))
                    .map(Certificates.Revoked::serial)
                    .collect(Collectors.toCollection(HashSet::new));
            shared.list()
                    .map(text -> ListFile.read(l.name(), text.getBytes(StandardCharsets.ISO_8859_1), a.certificate()))
                    .ifPresent(file ->
                            file.ours().forEach(list -> list.revoked().forEach(r -> out.remove(r.serial()))));
            return shared.list().isEmpty() && shared.listPath().isPresent()
                    ? Optional.empty() // its file is not among those that are read
                    : Optional.of(out);
        } catch (MalformedException e) {
            return Optional.empty();
        }
    }
}
