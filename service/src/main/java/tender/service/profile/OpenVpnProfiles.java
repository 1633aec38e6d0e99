package tender.service.profile;

import java.security.SecureRandom;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.UUID;
import tender.core.backup.Snapshot;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.Lifetimes;
import tender.core.certificate.PemText;
import tender.core.credential.Custody;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.device.SharedClientSettings;
import tender.core.network.Cidr;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.profile.OpenVpnProfile;
import tender.service.certificate.Revoking;
import tender.service.certificate.Signers;
import tender.service.device.DeviceDescriptions;
import tender.service.office.OfficeRecords;
import tender.service.refusal.Refused;
import tender.store.backup.Backups;
import tender.store.certificate.Authorities;
import tender.store.certificate.Certificates;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.office.Gateways;
import tender.store.office.Listeners;

/** Profiles of OpenVPN listeners: a certificate of the company's authority, and a file with all that belongs to it. */
final class OpenVpnProfiles {
    private static final List<Attribute> COPIED = List.of(
            Attribute.AUTHORITY,
            Attribute.CONTROL_CHANNEL_KEY,
            Attribute.DIGEST,
            Attribute.SERVER_NAMES,
            Attribute.TUNNEL_NETWORK);

    private final Gateways gateways;
    private final OfficeRecords records;
    private final DeviceDescriptions descriptions;
    private final Backups backups;
    private final Signers signers;
    private final Revoking revoking;
    private final Certificates certificates;
    private final SecureRandom random = new SecureRandom();

    OpenVpnProfiles(
            Gateways gateways,
            OfficeRecords records,
            DeviceDescriptions descriptions,
            Backups backups,
            Signers signers,
            Revoking revoking,
            Certificates certificates) {
        this.gateways = gateways;
        this.records = records;
        this.descriptions = descriptions;
        this.backups = backups;
        this.signers = signers;
        this.revoking = revoking;
        this.certificates = certificates;
    }

    /** What is known of the listener that a file is for. */
    record Place(Listeners.Listener listener, Listener facts, SharedClientSettings shared) {}

    /** Throws where the listener cannot be told from what was read of it. */
    Place place(Tx tx, Listeners.Listener listener) {
        Gateways.Gateway gateway = gateways.byId(tx, listener.gatewayId()).orElseThrow();
        if (gateway.isManual()) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    gateway.name() + " makes its client files itself: request one with tender request add "
                            + gateway.name() + " PERSON/DEVICE, and import it with tender import FILE");
        }
        Listener facts = facts(tx, listener);
        Backups.Backup newest = Backups.newest(tx, gateway.id())
                .orElseThrow(() -> new Refused(
                        Refused.Kind.CONFLICT, "read the gateway first: tender gateway read " + gateway.name()));
        Map<String, byte[]> files =
                Snapshot.ofZip(backups.content(tx, newest.id())).files();
        return new Place(
                listener,
                facts,
                gateway.connector().equals("https")
                        ? SharedClientSettings.ofGatewayApi(files, listener.name())
                        : SharedClientSettings.of(
                                descriptions.description(gateway.description()), files, listener.name()));
    }

    /** A certificate and its key. */
    record Pair(Certificates.Certificate certificate, Secret key) {}

    /** The authority of Tender's that a certificate names; refuses where the listener believes a foreign one. */
    private static Authorities.Authority believed(Tx tx, String listener, String fingerprint, String known) {
        return Authorities.all(tx).stream()
                .filter(a -> CertificateFacts.of(a.certificate()).fingerprint().equals(fingerprint))
                .findFirst()
                .orElseThrow(() -> new Refused(
                        Refused.Kind.CONFLICT,
                        listener + " believes the authority " + known
                                + ", whose key Tender does not have; take it in: tender authority import",
                        "listener"));
    }

    /** The authority that this listener's callers are signed by. */
    Authorities.Authority authority(Tx tx, Place place) {
        CertificateFacts facts = CertificateFacts.of(place.shared().authority());
        return believed(
                tx,
                place.listener().name(),
                facts.fingerprint(),
                facts.anyName().orElse("(no name)"));
    }

    /** The same for an IKEv2 listener: the one that its gateway tells, else the one that was said. */
    Authorities.Authority authority(Tx tx, Listener facts, Optional<String> said) {
        if (said.isPresent()) {
            return Authorities.byName(tx, said.get())
                    .orElseThrow(() -> new Refused(Refused.Kind.NOT_FOUND, "there is no such authority", "authority"));
        }
        String fingerprint = facts.get(Attribute.AUTHORITY)
                .orElseThrow(() -> new Refused(
                        Refused.Kind.CONFLICT,
                        facts.name() + " does not tell which authority it believes; say it: --authority NAME",
                        "authority"));
        return believed(tx, facts.name(), fingerprint, fingerprint);
    }

    /** The certificate of the authority that a listener tells, where it is one of ours. */
    Optional<byte[]> authorityOf(Tx tx, Listener facts) {
        return facts.get(Attribute.AUTHORITY)
                .flatMap(told -> Authorities.all(tx).stream()
                        .map(Authorities.Authority::certificate)
                        .filter(c -> CertificateFacts.of(c).fingerprint().equals(told))
                        .findFirst());
    }

    /** What was read of a listener. */
    Listener facts(Tx tx, Listeners.Listener listener) {
        return records.device(gateways.byId(tx, listener.gatewayId()).orElseThrow())
                .listener(listener.name())
                .orElseThrow(() -> Refused.notFound("listener among what was read"));
    }

    /** What signs for an authority; its key is opened once. */
    Authority signer(Tx tx, Authorities.Authority authority) {
        return signers.of(tx, authority);
    }

    /** Where nobody says an end: a year, and no longer than the authority counts. */
    static Instant usualEnd(Instant authorityEnds, Instant now) {
        Instant usual = now.plus(Lifetimes.CLIENT);
        return usual.isAfter(authorityEnds) ? authorityEnds : usual;
    }

    /** Whose certificate it is: the gateway that it opens, the profile and its device, and the profile's label, which is its name. */
    record Holder(UUID gatewayId, UUID profileId, Optional<UUID> deviceId, String label) {}

    /**
     * A certificate to be signed.
     *
     * @param until when it ends; a year from now where empty
     */
    record Signing(Authorities.Authority authority, Authority signer, Holder holder, Optional<Instant> until) {}

    Pair sign(Tx tx, Signing wanted, Instant now) {
        Authorities.Authority authority = wanted.authority();
        String name = commonName(wanted.holder().label());
        CertificateKey key = CertificateKey.generate(CertificateKey.Kind.EC_P256, random);
        Instant ends = wanted.until().orElse(usualEnd(authority.ends(), now)).truncatedTo(ChronoUnit.SECONDS);
        if (ends.isAfter(authority.ends()) || !ends.isAfter(now)) {
            throw new Refused(
                    Refused.Kind.CONFLICT, "it would outlive its authority, which ends " + authority.ends(), "until");
        }
        byte[] content = wanted.signer()
                .sign(
                        Authority.Purpose.CLIENT,
                        name,
                        List.of(name), // IKEv2 gateways let in who stands there as a name, not only in the subject
                        key.publicKey(),
                        now,
                        ends,
                        authority.publishesAt(),
                        random);
        Certificates.Certificate c = certificate(authority, content, wanted.holder(), now);
        certificates.insert(tx, c, Optional.of(key.privateKey()));
        return new Pair(c, key.privateKey());
    }

    private static Certificates.Certificate certificate(
            Authorities.Authority authority, byte[] content, Holder holder, Instant now) {
        CertificateFacts facts = CertificateFacts.of(content);
        return new Certificates.Certificate(
                Ids.next(),
                authority.id(),
                authority.name(),
                facts.serial(),
                "client",
                facts.commonName(),
                facts.names(),
                content,
                Custody.HELD.name(),
                holder.deviceId(),
                Optional.of(holder.profileId()),
                Optional.of(holder.gatewayId()),
                facts.starts(),
                facts.ends(),
                Optional.empty(),
                Optional.empty(),
                now);
    }

    /** The certificate that a profile has. */
    Pair held(Tx tx, UUID profileId) {
        Certificates.Certificate c = Certificates.ofProfile(tx, profileId)
                .orElseThrow(() -> Refused.notFound("certificate of this profile"));
        return new Pair(
                c,
                certificates
                        .key(tx, c.id())
                        .orElseThrow(() -> new Refused(Refused.Kind.KEY_NOT_HELD, "the key is not held any more")));
    }

    /** Revokes all that a profile has, the one that still counts beside its successor too; the lists that name it are signed anew. */
    void revoke(Tx tx, UUID profileId, Instant now) {
        Certificates.allOfProfile(tx, profileId).forEach(c -> revoking.revoke(tx, c, Revoking.CESSATION, now));
    }

    /** Revokes one that an authority of ours signed before Tender had it. */
    void revokeForeign(Tx tx, UUID authorityId, String serial, String label, Instant now) {
        revoking.revokeForeign(tx, authorityId, serial, "withdrawn with " + label, now);
    }

    static String commonName(String label) {
        return label.length() > 64 ? label.substring(0, 64) : label;
    }

    /** @param pair empty where callers sign in by account alone */
    String text(String title, Place place, Optional<Pair> pair, Given given, Instant now) {
        Listener facts = place.facts();
        return new OpenVpnProfile(
                        title,
                        List.of(Planning.endpoint(place.listener())),
                        place.shared().controlChannelKeyOf(random, now),
                        PemText.write("CERTIFICATE", place.shared().authority()),
                        pair.map(p ->
                                PemText.write("CERTIFICATE", p.certificate().content())),
                        pair.map(p ->
                                Secret.of(PemText.write("PRIVATE KEY", p.key().reveal(RevealSecret.TO_WRITE_FILE)))),
                        facts.get(Attribute.ACCOUNTS)
                                .filter(a -> !a.equals("none"))
                                .isPresent(),
                        facts.words(Attribute.SERVER_NAMES).stream().findFirst(),
                        facts.words(Attribute.CIPHERS),
                        facts.get(Attribute.DIGEST).orElse("SHA256"),
                        facts.is(Attribute.COMPRESSION, "yes"),
                        given.reach(),
                        given.takesPushed(),
                        given.dns(),
                        facts.number(Attribute.MTU).map(OptionalInt::of).orElse(OptionalInt.empty()))
                .text();
    }

    /** What the file depends on, by the words of attributes, and what it calls. */
    static Map<String, String> madeFor(Place place, List<Cidr> reach) {
        Map<String, String> out = new LinkedHashMap<>(Planning.madeFor(place.listener(), reach));
        out.remove(Attribute.PUBLIC_KEY.word());
        COPIED.forEach(a -> place.facts().get(a).ifPresent(v -> out.put(a.word(), v)));
        return out;
    }
}
