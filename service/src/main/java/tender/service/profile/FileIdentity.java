package tender.service.profile;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.PemText;
import tender.core.credential.ClientIdentity;
import tender.core.credential.CredentialKind;
import tender.core.credential.Custody;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.office.Protocol;
import tender.core.profile.IkeProfile;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.OpenVpnFile;
import tender.core.profile.WireGuardFile;
import tender.core.wire.MalformedException;

/**
 * Who a client file signs in as: by the name in a certificate, by a key, or by an account.
 *
 * @param ends when its certificate ends
 * @param addresses its own in the tunnel
 * @param reach networks that the file leads to
 */
record FileIdentity(ClientIdentity who, Optional<Instant> ends, List<IpAddress> addresses, List<Cidr> reach) {
    /** A key or certificate is held with its file; the password of an account only where the file has it. */
    Custody custody(ImportedFile a) {
        if (who.kind() != CredentialKind.PASSWORD) {
            return Custody.HELD;
        }
        return a.protocol() == Protocol.OPENVPN
                        && OpenVpnFile.read(a.repaired()).file().login().size() > 1
                ? Custody.IN_FILE
                : Custody.DEVICE_ONLY;
    }

    static FileIdentity of(ImportedFile a) {
        return switch (a.protocol()) {
            case OPENVPN -> openVpn(a);
            case IKEV2 -> asserted(a.repaired());
            default -> keyed(a.repaired());
        };
    }

    /** By its certificate, or by the name that it signs in with. */
    private static FileIdentity asserted(String text) {
        IkeProfile file = IkeProfile.read(text);
        Optional<CertificateFacts> own = file.certificate()
                .map(c -> CertificateFacts.of(PemText.read(c).blocks().get(0).der()));
        String name = own.flatMap(CertificateFacts::anyName)
                .or(() -> file.says("local", "eap_id"))
                .or(() -> file.says("local", "id"))
                .orElseThrow(() -> new MalformedException("identity", "local", "does not say who it is"));
        return new FileIdentity(
                own.isPresent() ? new ClientIdentity.CertificateName(name) : new ClientIdentity.Account(name),
                own.map(CertificateFacts::ends),
                List.of(),
                file.reach());
    }

    /** By the certificate, or by the account where the file has none. */
    private static FileIdentity openVpn(ImportedFile a) {
        OpenVpnClient file = OpenVpnClient.read(a.repaired());
        if (a.own().isPresent()) {
            CertificateFacts own = a.own().get();
            return new FileIdentity(
                    new ClientIdentity.CertificateName(own.anyName().orElse(own.serial())),
                    Optional.of(own.ends()),
                    List.of(),
                    file.reach());
        }
        if (!file.asksPassword()) {
            throw new MalformedException(
                    "certificate", "cert", "neither a certificate of its own nor an account stands in the file");
        }
        String account = file.file().login().stream().findFirst().orElse(a.handle());
        return new FileIdentity(new ClientIdentity.Account(account), Optional.empty(), List.of(), file.reach());
    }

    private static FileIdentity keyed(String text) {
        WireGuardFile file = WireGuardFile.read(text).file();
        WireGuardFile.Interface own = file.own()
                .filter(o -> o.privateKey().isPresent())
                .orElseThrow(() -> new MalformedException("key", "PrivateKey", "no private key stands in the file"));
        return new FileIdentity(
                new ClientIdentity.Key(TunnelKeyPair.ofPrivate(own.privateKey().get())
                        .publicKey()
                        .toString()),
                Optional.empty(),
                own.addresses().stream().map(x -> x.address()).toList(),
                file.peers().stream()
                        .flatMap(p -> p.allowed().stream())
                        .map(x -> x.network())
                        .toList());
    }
}
