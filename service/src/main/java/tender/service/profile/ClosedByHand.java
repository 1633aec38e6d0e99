package tender.service.profile;

import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import tender.core.backup.Snapshot;
import tender.core.certificate.PemText;
import tender.core.certificate.RevocationList;
import tender.core.office.Attribute;
import tender.core.office.Device;
import tender.core.wire.MalformedException;
import tender.service.gateway.GatewayReading;
import tender.store.jdbc.Tx;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.profile.Instructions;
import tender.store.profile.ListenerProfiles;

/** Looks in what was just read whether what somebody had to do by hand is done. */
public final class ClosedByHand implements GatewayReading.Conclusion {
    @Override
    public void draw(Tx tx, Gateways.Gateway gateway, Snapshot snapshot, Device device, Instant asOf) {
        List<Instructions.Instruction> open = Instructions.atGateway(tx, gateway.id()).stream()
                .filter(i -> !asOf.isBefore(i.askedAt())) // files copied before it was asked prove nothing
                .toList();
        if (open.isEmpty()) {
            return;
        }
        Set<String> keys = new HashSet<>(Listeners.peerKeysAt(tx, gateway.id()));
        Set<String> revoked = revoked(snapshot);
        for (Instructions.Instruction i : open) {
            boolean done = switch (i.kind()) {
                case ADMIT_PEER -> keys.contains(i.what());
                case ADMIT_ACCOUNT ->
                    device.accounts().stream().anyMatch(a -> a.name().equals(i.what()) && a.vpn());
                case CLOSE_PEER -> !keys.contains(i.what());
                case CLOSE_ACCOUNT -> isClosed(tx, gateway, device, i);
                case CLOSE_CERTIFICATE, UPLOAD_LIST -> revoked.contains(i.what());
            };
            if (done) {
                ByHand.done(tx, i, "a reading of the gateway", asOf);
            }
        }
    }

    /** Only a gateway that keeps the accounts of its callers itself, and lists them, shows that one is gone. */
    private static boolean isClosed(Tx tx, Gateways.Gateway gateway, Device device, Instructions.Instruction i) {
        boolean local = device.listener(i.listener())
                .filter(l -> l.is(Attribute.ACCOUNTS, "local"))
                .isPresent();
        boolean listed = device.accounts().stream().anyMatch(a -> a.name().equals(i.what()) && a.vpn());
        return ListenerProfiles.usesAccount(tx, gateway.id(), i.what())
                || local && !device.accounts().isEmpty() && !listed;
    }

    /** Serials that any revocation list among the gateway's files names. */
    private static Set<String> revoked(Snapshot snapshot) {
        Set<String> out = new HashSet<>();
        snapshot.files().values().forEach(content -> {
            String text = new String(content, java.nio.charset.StandardCharsets.ISO_8859_1);
            if (text.contains("BEGIN X509 CRL")) {
                try {
                    PemText.read(text).blocks().stream()
                            .filter(b -> b.label().equals("X509 CRL"))
                            .forEach(b -> RevocationList.of(b.der()).revoked().forEach(r -> out.add(r.serial())));
                } catch (MalformedException e) {
                    return; // a damaged list shows nothing
                }
            }
        });
        return out;
    }
}
