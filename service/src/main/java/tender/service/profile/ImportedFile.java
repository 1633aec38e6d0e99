package tender.service.profile;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import tender.core.certificate.CertificateFacts;
import tender.core.credential.Secret;
import tender.core.network.Endpoint;
import tender.core.network.IpAddress;
import tender.core.office.Listener;
import tender.core.office.Protocol;
import tender.store.office.Gateways;
import tender.store.person.People;

/**
 * A file to import, as it came and as it is repaired.
 *
 * @param dns name servers that were granted, where any were
 * @param life how long the access lasts by the rule of the owner's team
 * @param own the certificate in it, also out of a key store that was opened to look
 * @param passphrase opens its key store or key, where it is locked and the passphrase is to be kept
 * @param decision which dangerous lines may stay and why, where it has some
 */
public record ImportedFile(
        Gateways.Gateway gateway,
        Listener facts,
        String handle,
        People.Device device,
        Protocol protocol,
        String came,
        String repaired,
        List<Endpoint> calls,
        List<IpAddress> dns,
        Optional<Duration> life,
        Optional<CertificateFacts> own,
        Optional<Secret> passphrase,
        Optional<String> decision) {
    /** What its profile is called. */
    public String label() {
        return handle + "-" + device.name() + "-" + gateway.name();
    }
}
