package tender.service.profile;

import java.util.Map;
import java.util.Optional;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.language.StaffTexts;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.office.Protocol;
import tender.core.profile.IkeProfile;
import tender.core.profile.OpenVpnClient;
import tender.core.sheet.Connection;
import tender.core.sheet.Platform;
import tender.core.sheet.SettingsSheet;
import tender.core.wire.MalformedException;
import tender.store.jdbc.Db;
import tender.store.person.People;
import tender.store.profile.Profiles;

/** Settings sheets of profiles: what their newest revision says, for the device that they are made for. */
public final class Sheets {
    private final Db db;

    Sheets(Db db) {
        this.db = db;
    }

    /**
     * The sheet of a profile.
     *
     * @param platform another than what is noted of the device
     * @param texts in the language of whoever reads it
     */
    public SettingsSheet of(ProfileFiles.Newest newest, Optional<Platform> platform, StaffTexts texts) {
        return SettingsSheet.of(connection(newest, texts), platform.orElseGet(() -> platform(newest.profile())), texts);
    }

    /** Who gets what: the person, the device and the gateway. */
    public static String title(Profiles.Profile p, StaffTexts texts) {
        return texts.get(
                "title",
                "person",
                p.personName().orElse(p.label()),
                "device",
                p.device().orElseGet(() -> texts.get("device")),
                "gateway",
                p.gateway());
    }

    /** For which system the settings are told: by what is known of the device. */
    public Platform platform(Profiles.Profile p) {
        return p.deviceId()
                .flatMap(id -> db.inTransaction(tx -> People.device(tx, id)))
                .map(d -> Platform.of(d.system(), d.kind()))
                .orElse(Platform.LINUX);
    }

    /** The kind of VPN that the file is for. */
    public static Protocol protocol(ProfileFiles.Newest newest) {
        return Protocol.parse(madeFor(newest).get(Attribute.PROTOCOL.word()));
    }

    private static Map<String, String> madeFor(ProfileFiles.Newest newest) {
        return newest.revision().madeFor();
    }

    private static Connection connection(ProfileFiles.Newest newest, StaffTexts texts) {
        Profiles.Profile p = newest.profile();
        Map<String, String> madeFor = madeFor(newest);
        Protocol protocol = Protocol.parse(madeFor.get(Attribute.PROTOCOL.word()));
        String text = newest.content().revealText(RevealSecret.TO_HAND_OUT);
        Optional<IkeProfile> ike = protocol == Protocol.IKEV2 ? Optional.of(IkeProfile.read(text)) : Optional.empty();
        Optional<CertificateFacts> own = ike.flatMap(IkeProfile::certificate).map(Sheets::facts);
        boolean account = protocol == Protocol.OPENVPN
                ? OpenVpnClient.read(text).certificate().isEmpty()
                : protocol != Protocol.WIREGUARD && own.isEmpty();
        return new Connection(
                title(p, texts),
                protocol,
                called(madeFor.getOrDefault("endpoint", "")),
                ike.flatMap(i -> i.says("remote", "id")),
                identity(p, ike, own),
                !account,
                "yes".equals(madeFor.get(Attribute.SHARED_SECRET.word())) || protocol == Protocol.L2TP_IPSEC,
                ike.flatMap(IkeProfile::authority)
                        .map(Sheets::facts)
                        .map(f -> new Connection.Authority(f.anyName().orElse("(no name)"), f.fingerprint())),
                own.isPresent() ? keyStoreName(newest) : newest.revision().fileName(),
                p.fullTunnel() ? Planning.everything() : p.reach(),
                p.dns(),
                own.map(CertificateFacts::ends));
    }

    /** Name of the key store that is handed out beside a sheet. */
    public static String keyStoreName(ProfileFiles.Newest newest) {
        return newest.revision().fileName().replaceAll("\\.[a-z]+$", ".p12");
    }

    private static CertificateFacts facts(String pem) {
        return CertificateFacts.of(PemText.read(pem).blocks().get(0).der());
    }

    private static String identity(Profiles.Profile p, Optional<IkeProfile> ike, Optional<CertificateFacts> own) {
        return own.flatMap(CertificateFacts::anyName)
                .or(() -> ike.flatMap(i -> i.says("local", "eap_id")))
                .orElseGet(() -> p.identity().isName() ? p.identity().value() : p.label());
    }

    /** As the revision noted it: {@code HOST:PORT}, or the host alone where the standard fixes the ports. */
    private static Optional<Endpoint> called(String text) {
        if (text.isEmpty()) {
            return Optional.empty();
        }
        try {
            int colon = text.lastIndexOf(':');
            boolean port = colon > 0 && text.substring(colon + 1).matches("[0-9]{1,5}");
            String host = port ? text.substring(0, colon) : text.split(",")[0];
            return Optional.of(new Endpoint(
                    Host.parse(host.replaceAll("^\\[|]$", "")),
                    port ? Port.parse(text.substring(colon + 1)) : new Port(500),
                    Transport.UDP));
        } catch (MalformedException e) {
            return Optional.empty(); // a file imported as it came may call what nobody can
        }
    }
}
