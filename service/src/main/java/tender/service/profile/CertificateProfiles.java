package tender.service.profile;

import java.time.Instant;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.PemText;
import tender.core.credential.ClientIdentity;
import tender.core.credential.CredentialState;
import tender.core.credential.Custody;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.network.Cidr;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.office.Protocol;
import tender.core.profile.FileName;
import tender.core.profile.IkeConnection;
import tender.core.profile.IkeProfile;
import tender.core.wire.Sha256;
import tender.store.certificate.Authorities;
import tender.store.credential.Credentials;
import tender.store.event.Events;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Listeners;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;

/**
 * Profiles that authenticate with a certificate of the company's authority: OpenVPN and IKEv2. Nothing is written at the
 * gateway: it believes the authority, and so the certificate.
 */
final class CertificateProfiles {
    private final Credentials credentials;
    private final Revisions revisions;
    private final OpenVpnProfiles certificates;

    CertificateProfiles(Credentials credentials, Revisions revisions, OpenVpnProfiles certificates) {
        this.credentials = credentials;
        this.revisions = revisions;
        this.certificates = certificates;
    }

    /** What goes into a file: the name that the certificate bears, the pair, and what is sent into the tunnel. */
    record Holding(String name, OpenVpnProfiles.Pair pair, Given given) {}

    /** A listener as a file of its kind needs it. */
    sealed interface Kind {
        Authorities.Authority authority();

        Authority signer();

        String text(Edition e, Holding holding);

        String fileName(String stem, int number);

        Map<String, String> madeFor(List<Cidr> reach);
    }

    private record OpenVpn(
            OpenVpnProfiles certificates,
            OpenVpnProfiles.Place place,
            Authorities.Authority authority,
            Authority signer)
            implements Kind {
        @Override
        public String text(Edition e, Holding holding) {
            return certificates.text(e.title(), place, Optional.of(holding.pair()), holding.given(), e.now());
        }

        @Override
        public String fileName(String stem, int number) {
            return FileName.openVpn(stem, number);
        }

        @Override
        public Map<String, String> madeFor(List<Cidr> reach) {
            return OpenVpnProfiles.madeFor(place, reach);
        }
    }

    private record Ike(Listeners.Listener listener, Listener facts, Authorities.Authority authority, Authority signer)
            implements Kind {
        @Override
        public String text(Edition e, Holding holding) {
            String section = new IkeConnection(
                            listener.gateway().replaceAll("[^A-Za-z0-9-]", "-"),
                            Planning.endpoint(listener).host(),
                            serverId(facts, listener),
                            IkeConnection.Proof.CERTIFICATE,
                            holding.name(),
                            Optional.of(holding.name() + ".pem"),
                            Optional.of(listener.gateway() + "-authority.pem"),
                            holding.given().reach())
                    .swanctl();
            return new IkeProfile(
                            "# " + e.title() + "\n" + section,
                            Optional.of(PemText.write(
                                    "CERTIFICATE", holding.pair().certificate().content())),
                            Optional.of(Secret.of(PemText.write(
                                    "PRIVATE KEY", holding.pair().key().reveal(RevealSecret.TO_WRITE_FILE)))),
                            Optional.of(PemText.write("CERTIFICATE", authority.certificate())))
                    .text();
        }

        @Override
        public String fileName(String stem, int number) {
            return FileName.settings(stem, number);
        }

        @Override
        public Map<String, String> madeFor(List<Cidr> reach) {
            return typed(listener, facts, reach);
        }
    }

    /** What the server's certificate must say: its first name, else what is called. */
    static String serverId(Listener facts, Listeners.Listener listener) {
        return facts.words(Attribute.SERVER_NAMES).stream()
                .findFirst()
                .orElseGet(() -> Planning.endpoint(listener).host().toString());
    }

    /** What settings that are typed in depend on. */
    static Map<String, String> typed(Listeners.Listener listener, Listener facts, List<Cidr> reach) {
        Map<String, String> out = new LinkedHashMap<>(Planning.madeFor(listener, reach));
        // neither stands in them: the standard fixes the ports, and the server gives the address
        Arrays.asList(Attribute.PUBLIC_KEY, Attribute.TRANSPORT, Attribute.PORT, Attribute.TUNNEL_NETWORK)
                .forEach(a -> out.remove(a.word()));
        Arrays.asList(Attribute.AUTHORITY, Attribute.SERVER_NAMES, Attribute.ACCOUNTS, Attribute.SHARED_SECRET)
                .forEach(a -> facts.get(a).ifPresent(v -> out.put(a.word(), v)));
        return out;
    }

    /** What is the same for all profiles of a listener; {@code said} names the authority where the gateway does not. */
    Kind kind(Tx tx, Listeners.Listener listener, Optional<String> said) {
        return kind(tx, listener, Optional.empty(), said);
    }

    private Kind kind(
            Tx tx, Listeners.Listener listener, Optional<Authorities.Authority> signedBefore, Optional<String> said) {
        if (listener.protocol().equals(Protocol.OPENVPN.word())) {
            OpenVpnProfiles.Place place = certificates.place(tx, listener);
            Authorities.Authority authority = certificates.authority(tx, place);
            return new OpenVpn(certificates, place, authority, certificates.signer(tx, authority));
        }
        Listener facts = certificates.facts(tx, listener);
        Authorities.Authority authority = signedBefore.orElseGet(() -> certificates.authority(tx, facts, said));
        return new Ike(listener, facts, authority, certificates.signer(tx, authority));
    }

    /**
     * Gives the profile's id. It is ready at once, or once the gateway has the account where Tender makes one.
     *
     * @param password of an account beside the certificate that is to be made
     */
    UUID keep(Tx tx, ProfilePlan w, Kind kind, Optional<Secret> password, Optional<Instant> until, By by) {
        String name = OpenVpnProfiles.commonName(w.label());
        UUID profileId = new NamedCredential(
                        new ClientIdentity.CertificateName(name),
                        "certificate of " + w.label(),
                        Custody.HELD,
                        CredentialState.CREATED,
                        Optional.empty(),
                        password)
                .keep(tx, credentials, w, by.at());
        OpenVpnProfiles.Holder holder =
                new OpenVpnProfiles.Holder(w.listener().gatewayId(), profileId, w.deviceId(), w.label());
        OpenVpnProfiles.Pair pair = certificates.sign(
                tx, new OpenVpnProfiles.Signing(kind.authority(), kind.signer(), holder, until), by.at());
        Credentials.expiresAt(tx, profileId, Optional.of(pair.certificate().ends()));
        Edition first = Edition.first(tx, profileId, w, by.at());
        String text = first.keep(tx, revisions, made(first, kind, new Holding(name, pair, w.given())));
        if (password.isEmpty()) {
            Profiles.ready(tx, profileId);
        }
        Events.say(tx, "profile", profileId);
        Journal.append(
                tx,
                by,
                "profile-issued",
                "profile",
                profileId,
                "revision 1, " + Sha256.hex(text) + ", certificate "
                        + pair.certificate().serial()
                        + (password.isPresent() ? ", its own account " + name : ""));
        return profileId;
    }

    private static Edition.Made made(Edition e, Kind kind, Holding holding) {
        return new Edition.Made(
                kind.text(e, holding),
                kind.fileName(e.stem(), e.number()),
                kind.madeFor(holding.given().reach()));
    }

    /** A new revision; with a new certificate where another end is wanted. */
    String renew(Tx tx, Renewal r) {
        Profiles.Profile p = r.profile();
        OpenVpnProfiles.Pair held = certificates.held(tx, p.id());
        Kind kind =
                kind(tx, r.listener(), Authorities.byId(tx, held.certificate().authorityId()), Optional.empty());
        OpenVpnProfiles.Holder holder =
                new OpenVpnProfiles.Holder(r.listener().gatewayId(), p.id(), p.deviceId(), p.label());
        OpenVpnProfiles.Pair pair = r.until().isPresent()
                ? certificates.sign(
                        tx, new OpenVpnProfiles.Signing(kind.authority(), kind.signer(), holder, r.until()), r.now())
                : held;
        Credentials.expiresAt(tx, p.id(), Optional.of(pair.certificate().ends()));
        String name =
                CertificateFacts.of(pair.certificate().content()).anyName().orElse(p.label());
        return r.edition().keep(tx, revisions, made(r.edition(), kind, new Holding(name, pair, Given.of(p))));
    }

    void revoke(Tx tx, UUID profileId, Instant now) {
        certificates.revoke(tx, profileId, now);
    }
}
