package tender.core.ike;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.certificate.Authority.Purpose;
import tender.core.certificate.CertificateKey;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.profile.IkeConnection;
import tender.core.profile.IkeProfile;
import tender.core.trial.House;
import tender.core.wire.MalformedException;

/** The parts of IKEv2's messages byte for byte, and what each refuses. */
class IkePartsTest {
    private static final HexFormat HEX = HexFormat.of();
    private static final byte[] SPI_I = HEX.parseHex("0102030405060708");
    private static final byte[] SPI_R = HEX.parseHex("1112131415161718");

    private static Sealer sealer(String cipher) {
        byte[] key = new byte[36];
        Arrays.fill(key, (byte) 7);
        Transform t = Transform.parse(cipher);
        boolean aead = t.isAuthenticated();
        int bytes = cipher.startsWith("chacha")
                ? 36
                : Integer.parseInt(cipher.replaceAll("aes(\\d+).*", "$1")) / 8 + (aead ? 4 : 0);
        return new Sealer(
                t,
                aead ? Optional.empty() : Optional.of(Transform.parse("sha256")),
                Arrays.copyOf(key, bytes),
                new byte[32],
                House.RANDOM);
    }

    private static List<Payload> payloads(int bytes) {
        byte[] body = new byte[bytes];
        new Random(bytes).nextBytes(body);
        return List.of(new Payload(Payload.NONCE, body), new Payload(Payload.EAP, new byte[] {1, 2, 3}));
    }

    private static void same(List<Payload> read, List<Payload> written) {
        assertThat(read).hasSameSizeAs(written);
        for (int i = 0; i < read.size(); i++) {
            assertThat(read.get(i).type()).isEqualTo(written.get(i).type());
            assertThat(read.get(i).body()).isEqualTo(written.get(i).body());
        }
    }

    private static List<byte[]> write(Sealer sealer, int id, List<Payload> payloads, boolean fragments) {
        return SealedMessage.write(sealer, SPI_I, SPI_R, 35, Message.FROM_INITIATOR, id, payloads, fragments);
    }

    @ParameterizedTest
    @ValueSource(strings = {"aes256gcm16", "aes128", "chacha20poly1305"})
    void aMessageComesBackWholeWhateverItsLength(String cipher) {
        for (int bytes : new int[] {0, 1, 2, 3, 4, 15, 16, 17, 1_085, 1_089, 1_090, 3_000}) {
            List<byte[]> packets = write(sealer(cipher), 1, payloads(bytes), false);
            assertThat(packets).hasSize(1);
            Message message = Message.read(packets.get(0));
            assertThat(message.id()).isEqualTo(1);
            assertThat(message.isResponse()).isFalse();
            same(new SealedMessage().read(message, sealer(cipher)).orElseThrow(), payloads(bytes));
        }
        List<byte[]> none = write(sealer(cipher), 1, List.of(), true);
        assertThat(new SealedMessage()
                        .read(Message.read(none.get(0)), sealer(cipher))
                        .orElseThrow())
                .isEmpty();
    }

    @Test
    void aLongMessageGoesInPartsThatComeInAnyOrderAndMoreThanOnce() {
        // 4 + bytes + 7 is the text: 1100 goes whole, 1101 does not
        assertThat(write(sealer("aes256gcm16"), 1, payloads(1_089), true)).hasSize(1);
        assertThat(write(sealer("aes256gcm16"), 1, payloads(1_090), true)).hasSize(2);
        assertThat(write(sealer("aes256gcm16"), 1, payloads(2_189), true)).hasSize(2);
        assertThat(write(sealer("aes256gcm16"), 1, payloads(2_190), true)).hasSize(3);
        Random random = new Random(4);
        for (String cipher : List.of("aes256gcm16", "aes192")) {
            for (int round = 0; round < 20; round++) {
                List<Payload> sent = payloads(1_090 + random.nextInt(6_000));
                List<byte[]> parts = new ArrayList<>(write(sealer(cipher), round, sent, true));
                Collections.shuffle(parts, random);
                SealedMessage reader = new SealedMessage();
                for (int i = 0; i < parts.size() - 1; i++) {
                    assertThat(reader.read(Message.read(parts.get(i)), sealer(cipher)))
                            .isEmpty();
                    assertThat(reader.read(Message.read(parts.get(i)), sealer(cipher)))
                            .as("once more")
                            .isEmpty();
                }
                same(
                        reader.read(Message.read(parts.get(parts.size() - 1)), sealer(cipher))
                                .orElseThrow(),
                        sent);
            }
        }
    }

    @Test
    void partsOfAnotherMessageAreNotMixedIn() {
        Sealer out = sealer("aes256gcm16");
        List<byte[]> first = write(out, 1, payloads(1_500), true);
        List<byte[]> second = write(out, 2, payloads(1_600), true);
        SealedMessage reader = new SealedMessage();
        assertThat(reader.read(Message.read(first.get(0)), sealer("aes256gcm16")))
                .isEmpty();
        assertThat(reader.read(Message.read(second.get(1)), sealer("aes256gcm16")))
                .isEmpty();
        same(reader.read(Message.read(second.get(0)), sealer("aes256gcm16")).orElseThrow(), payloads(1_600));
        assertThat(reader.read(Message.read(first.get(1)), sealer("aes256gcm16")))
                .as("the older message's other half was dropped")
                .isEmpty();
    }

    @Test
    void whatDoesNotOpenOrIsNumberedWronglyIsNoMessage() {
        byte[] whole = write(sealer("aes256gcm16"), 1, payloads(40), false).get(0);
        for (int i = 16; i < whole.length; i++) {
            byte[] changed = whole.clone();
            changed[i] ^= 1;
            assertThat(opened(changed)).as("byte " + i).isFalse();
        }
        List<byte[]> parts = write(sealer("aes256gcm16"), 1, payloads(1_500), true);
        assertThat(ByteBuffer.wrap(parts.get(0), 32, 4).getInt()).as("1 of 2").isEqualTo(0x00010002);
        assertThat(ByteBuffer.wrap(parts.get(1), 32, 4).getInt()).as("2 of 2").isEqualTo(0x00020002);
        assertThat(parts.get(0)[28]).as("what stands first inside").isEqualTo((byte) Payload.NONCE);
        assertThat(parts.get(1)[28]).as("only told once").isZero();
        for (int numbers : new int[] {0x00000002, 0x00030002, 0x00010041}) {
            byte[] changed = parts.get(0).clone();
            ByteBuffer.wrap(changed).putInt(32, numbers);
            assertThat(opened(changed)).isFalse();
        }
        byte[] plain = Message.plain(SPI_I, SPI_R, 35, 0, 1, payloads(4));
        assertThat(new SealedMessage().read(Message.read(plain), sealer("aes256gcm16")))
                .isEmpty();
        assertThatThrownBy(() -> Message.read(Arrays.copyOf(plain, plain.length - 1)))
                .isInstanceOf(MalformedException.class);
    }

    private static boolean opened(byte[] raw) {
        try {
            return new SealedMessage()
                    .read(Message.read(raw), sealer("aes256gcm16"))
                    .isPresent();
        } catch (MalformedException e) {
            return false;
        }
    }

    // payloads

    @Test
    void payloadsStandInAChain() {
        byte[] bytes = Payload.encode(
                List.of(new Payload(Payload.NONCE, new byte[] {9}), new Payload(Payload.NOTIFY, new byte[] {8, 7})));
        assertThat(HEX.formatHex(bytes)).isEqualTo("29000005" + "09" + "00000006" + "0807");
        same(
                Payload.decode(Payload.NONCE, bytes),
                List.of(new Payload(Payload.NONCE, new byte[] {9}), new Payload(Payload.NOTIFY, new byte[] {8, 7})));
        assertThat(Payload.decode(0, new byte[0])).isEmpty();
        for (String bad : List.of("2900000509" + "00000007" + "0807", "29000003", "290000")) {
            assertThatThrownBy(() -> Payload.decode(Payload.NONCE, HEX.parseHex(bad)))
                    .isInstanceOf(MalformedException.class);
        }
        // one that must be understood: known ones may be marked so, others not
        assertThat(Payload.decode(Payload.SA, HEX.parseHex("00800004"))).hasSize(1);
        assertThat(Payload.decode(Payload.SEALED_FRAGMENT, HEX.parseHex("00800004")))
                .hasSize(1);
        assertThat(Payload.decode(200, HEX.parseHex("00000004"))).hasSize(1);
        for (int unknown : new int[] {32, 54, 200}) {
            assertThatThrownBy(() -> Payload.decode(unknown, HEX.parseHex("00800004")))
                    .isInstanceOf(MalformedException.class);
        }
        // a sealed one ends the chain whatever it says comes next
        assertThat(Payload.decode(Payload.SEALED, HEX.parseHex("21000004ffff"))).hasSize(1);
        assertThat(Payload.decode(Payload.SEALED_FRAGMENT, HEX.parseHex("21000004ffff")))
                .hasSize(1);
        byte[] many = HEX.parseHex("28000004".repeat(100) + "00000004");
        assertThatThrownBy(() -> Payload.decode(Payload.NONCE, many)).hasMessageContaining("too many");
        byte[] most = HEX.parseHex("28000004".repeat(99) + "00000004");
        assertThat(Payload.decode(Payload.NONCE, most)).hasSize(100);
    }

    @Test
    void noticesAndRefusalsAreTold() {
        Payload cookie = Notify.of(Notify.COOKIE, new byte[] {5, 6});
        assertThat(HEX.formatHex(cookie.body())).isEqualTo("00004006" + "0506");
        Payload refused = new Payload(Payload.NOTIFY, HEX.parseHex("0304000e" + "aabbccdd" + "01"));
        List<Payload> all = List.of(new Payload(Payload.NONCE, new byte[4]), cookie, refused);
        assertThat(Notify.one(all, Notify.COOKIE))
                .hasValueSatisfying(n -> assertThat(n.data()).containsExactly(5, 6));
        assertThat(Notify.one(all, Notify.FRAGMENTATION)).isEmpty();
        assertThat(Notify.all(all)).hasSize(2);
        assertThat(Notify.refusal(all)).hasValueSatisfying(n -> {
            assertThat(n.name()).isEqualTo("NO_PROPOSAL_CHOSEN");
            assertThat(n.data()).containsExactly(1);
        });
        assertThat(Notify.refusal(List.of(Notify.of(Notify.FIRST_STATUS, new byte[0]))))
                .isEmpty();
        assertThat(Notify.refusal(List.of(Notify.of(Notify.FIRST_STATUS - 1, new byte[0])))
                        .orElseThrow()
                        .name())
                .isEqualTo("refusal 16383");
    }

    // identities

    @ParameterizedTest
    @CsvSource({
        "192.0.2.1, 1, c0000201, 192.0.2.1",
        "2001:db8::1, 5, 20010db8000000000000000000000001, 2001:db8::1",
        "orrin.example, 2, 6f7272696e2e6578616d706c65, orrin.example",
        "@orrin, 2, 6f7272696e, orrin",
        "@a@b, 2, 614062, a@b",
        "mara@example, 3, 6d617261406578616d706c65, mara@example"
    })
    void anIdentityIsReadAsSettingsWriteIt(String text, int type, String data, String words) {
        Identification id = Identification.parse(text);
        assertThat(id.type()).isEqualTo(type);
        assertThat(HEX.formatHex(id.data())).isEqualTo(data);
        assertThat(id.words()).isEqualTo(words);
        assertThat(HEX.formatHex(id.body())).isEqualTo("0" + type + "000000" + data);
        assertThat(Identification.read(id.body()).is(id)).isTrue();
        assertThat(Identification.parse("x.example").is(id)).isFalse();
        assertThat(new Identification(11, id.data()).is(id)).isFalse();
        assertThat(new Identification(id.type(), new byte[] {1}).is(id)).isFalse();
    }

    @Test
    void aSubjectIsAnIdentityToo() {
        House.Pair mara = House.signed(House.OURS, Purpose.CLIENT, "mara", -9, 90);
        assertThat(Identification.ofSubject(mara.certificate()).is(Identification.parse("CN=mara")))
                .isTrue();
        assertThat(Identification.ofSubject(mara.certificate()).words()).isEqualTo("CN=mara");
        assertThatThrownBy(() -> Identification.parse("=x")).isInstanceOf(MalformedException.class);
        assertThatThrownBy(() -> Identification.read(new byte[3])).isInstanceOf(MalformedException.class);
        assertThat(Identification.read(new byte[4]).data()).isEmpty();
        assertThat(new Identification(1, new byte[3]).words()).isEqualTo("an identity that cannot be read");
        assertThat(new Identification(2, "a\u0007b".getBytes(StandardCharsets.UTF_8)).words())
                .isEqualTo("a?b");
    }

    // what a caller is given

    @Test
    void addressesAndNameServersAreAskedForAndGiven() {
        assertThat(HEX.formatHex(Assigned.request(true, false).body())).isEqualTo("01000000" + "00010000" + "00030000");
        assertThat(HEX.formatHex(Assigned.request(false, true).body())).isEqualTo("01000000" + "00080000" + "000a0000");
        Assigned given = new Assigned(
                List.of(IpAddress.parse("10.99.0.2"), IpAddress.parse("fd00::2")),
                List.of(IpAddress.parse("10.20.0.53"), IpAddress.parse("fd00::53")));
        assertThat(HEX.formatHex(given.reply().body()))
                .isEqualTo("02000000" + "000100040a630002" + "00080011" + "fd000000000000000000000000000002" + "80"
                        + "000300040a140035" + "000a0010" + "fd000000000000000000000000000053");
        assertThat(Assigned.read(given.reply())).isEqualTo(given);
        assertThat(given.address(IpAddress.Family.V6)).contains(IpAddress.parse("fd00::2"));
        assertThat(given.address(IpAddress.Family.V4)).contains(IpAddress.parse("10.99.0.2"));
        assertThat(Assigned.NOTHING.address(IpAddress.Family.V4)).isEmpty();
        // attributes of other kinds and lengths are passed over
        Payload odd = new Payload(
                Payload.CONFIGURATION,
                HEX.parseHex(
                        "02000000" + "00020004ffffff00" + "000100030a6300" + "0003001020010db8000000000000000000000001"
                                + "000a00040a140035" + "80010004" + "0a630009" + "ffff"));
        assertThat(Assigned.read(odd)).isEqualTo(new Assigned(List.of(IpAddress.parse("10.99.0.9")), List.of()));
    }

    // packets in the tunnel

    @ParameterizedTest
    @ValueSource(strings = {"aes256gcm16", "aes256", "chacha20poly1305"})
    void packetsOfEveryLengthPassOnceAndOnlyTheirTunnel(String cipher) {
        byte[] there = {1, 1, 1, 1};
        byte[] back = {2, 2, 2, 2};
        EspTunnel near = new EspTunnel(there, back, sealer(cipher), sealer(cipher));
        EspTunnel far = new EspTunnel(back, there, sealer(cipher), sealer(cipher));
        EspTunnel other = new EspTunnel(back, new byte[4], sealer(cipher), sealer(cipher));
        for (int length = 1; length < 70; length++) {
            byte[] packet = new byte[length];
            new Random(length).nextBytes(packet);
            packet[0] = (byte) (length % 2 == 0 ? 0x45 : 0x60);
            byte[] sealed = near.seal(packet);
            assertThat(Arrays.copyOf(sealed, 4)).isEqualTo(there);
            assertThat(ByteBuffer.wrap(sealed, 4, 4).getInt()).isEqualTo(length);
            assertThat(other.open(sealed)).as("another tunnel's").isEmpty();
            for (int cut : new int[] {3, 7, 8, sealed.length - 1}) {
                assertThat(far.open(Arrays.copyOf(sealed, cut))).isEmpty();
            }
            assertThat(far.open(sealed)).hasValueSatisfying(p -> assertThat(p).isEqualTo(packet));
            assertThat(far.open(sealed)).as("a second time").isEmpty();
        }
    }

    @Test
    void whatHoldsNoPacketIsDropped() {
        byte[] spi = {1, 1, 1, 1};
        int number = 1;
        for (String text : List.of("4500" + "0004", "4500" + "0029", "45" + "0102" + "02" + "04")) {
            assertThat(opens(spi, number++, text)).as(text).isTrue();
        }
        for (String text :
                List.of("0004", "0204", "04", "", "45" + "0102" + "03" + "04", "4500" + "0005", "4500" + "003b")) {
            assertThat(opens(spi, number++, text)).as(text).isFalse();
        }
    }

    private static boolean opens(byte[] spi, int number, String hex) {
        byte[] header = ByteBuffer.allocate(8).put(spi).putInt(number).array();
        byte[] sealed = Bytes.join(header, sealer("aes256gcm16").seal(header, HEX.parseHex(hex)));
        return new EspTunnel(spi, spi, sealer("aes256gcm16"), sealer("aes256gcm16"))
                .open(sealed)
                .isPresent();
    }

    // proofs

    @ParameterizedTest
    @EnumSource(
            value = CertificateKey.Kind.class,
            names = {"EC_P256", "RSA_2048", "ED25519"})
    void aSignatureIsByItsKeyAndOverItsOctetsAlone(CertificateKey.Kind kind) {
        CertificateKey key = CertificateKey.generate(kind, House.RANDOM);
        byte[] certificate = certificate(key);
        byte[] other = certificate(CertificateKey.generate(kind, House.RANDOM));
        byte[] ofAnotherKind = certificate(CertificateKey.generate(
                kind == CertificateKey.Kind.EC_P256 ? CertificateKey.Kind.ED25519 : CertificateKey.Kind.EC_P256,
                House.RANDOM));
        byte[] octets = "first message, nonce, identity".getBytes(StandardCharsets.UTF_8);
        for (boolean modern : new boolean[] {true, false}) {
            Proof proof = Proof.read(Proof.signed(key, octets, modern).payload());
            boolean named = modern || kind == CertificateKey.Kind.ED25519;
            assertThat(proof.method())
                    .isEqualTo(
                            named
                                    ? Proof.SIGNATURE
                                    : kind == CertificateKey.Kind.RSA_2048 ? Proof.RSA : Proof.ECDSA_256);
            assertThat(proof.isBy(certificate, octets)).isTrue();
            assertThat(proof.isBy(certificate, "other octets".getBytes())).isFalse();
            assertThat(proof.isBy(other, octets)).isFalse();
            assertThat(proof.isBy(ofAnotherKind, octets)).isFalse();
            assertThat(proof.isBy(new byte[3], octets)).isFalse();
            byte[] changed = proof.data().clone();
            changed[changed.length - 1] ^= 1;
            assertThat(new Proof(proof.method(), changed).isBy(certificate, octets))
                    .isFalse();
            assertThat(new Proof(13, proof.data()).isBy(certificate, octets)).isFalse();
            assertThat(new Proof(Proof.ECDSA_384, proof.data()).isBy(certificate, octets))
                    .isFalse();
            assertThat(new Proof(Proof.ECDSA_521, proof.data()).isBy(certificate, octets))
                    .isFalse();
        }
        assertThatThrownBy(() -> Proof.read(new Payload(Payload.AUTHENTICATION, new byte[3])))
                .isInstanceOf(MalformedException.class);
        assertThat(Proof.read(new Payload(Payload.AUTHENTICATION, new byte[] {2, 0, 0, 0}))
                        .data())
                .isEmpty();
    }

    @ParameterizedTest
    @CsvSource({
        "SHA1, 1.3.14.3.2.26",
        "SHA-256, 2.16.840.1.101.3.4.2.1",
        "SHA-384, 2.16.840.1.101.3.4.2.2",
        "SHA-512, 2.16.840.1.101.3.4.2.3"
    })
    void signaturesOfOtherHashesAndWithPssAreChecked(String hash, String oid) throws Exception {
        CertificateKey key = CertificateKey.generate(CertificateKey.Kind.RSA_2048, House.RANDOM);
        byte[] certificate = certificate(key);
        byte[] octets = "octets".getBytes();
        var pkcs8 = new java.security.spec.PKCS8EncodedKeySpec(key.privateKey().reveal(RevealSecret.TO_HANDSHAKE));
        var secret = java.security.KeyFactory.getInstance("RSA").generatePrivate(pkcs8);
        var hashId =
                new org.bouncycastle.asn1.x509.AlgorithmIdentifier(new org.bouncycastle.asn1.ASN1ObjectIdentifier(oid));

        var pss = java.security.Signature.getInstance("RSASSA-PSS");
        String digest = hash.equals("SHA1") ? "SHA-1" : hash;
        pss.setParameter(new java.security.spec.PSSParameterSpec(
                digest, "MGF1", new java.security.spec.MGF1ParameterSpec(digest), 20, 1));
        var parameters = new org.bouncycastle.asn1.pkcs.RSASSAPSSparams(
                hashId,
                new org.bouncycastle.asn1.x509.AlgorithmIdentifier(
                        org.bouncycastle.asn1.pkcs.PKCSObjectIdentifiers.id_mgf1, hashId),
                new org.bouncycastle.asn1.ASN1Integer(20),
                new org.bouncycastle.asn1.ASN1Integer(1));
        assertThat(named("1.2.840.113549.1.1.10", parameters, signed(pss, secret, octets))
                        .isBy(certificate, octets))
                .isTrue();

        String number = switch (hash) {
            case "SHA1" -> "5";
            case "SHA-256" -> "11";
            case "SHA-384" -> "12";
            default -> "13";
        };
        var plain = java.security.Signature.getInstance(hash.replace("-", "") + "withRSA");
        byte[] value = signed(plain, secret, octets);
        assertThat(named("1.2.840.113549.1.1." + number, null, value).isBy(certificate, octets))
                .isTrue();
        assertThat(named("1.2.840.113549.1.1.4", null, value).isBy(certificate, octets))
                .as("MD5")
                .isFalse();
    }

    private static byte[] signed(java.security.Signature how, java.security.PrivateKey key, byte[] octets)
            throws Exception {
        how.initSign(key);
        how.update(octets);
        return how.sign();
    }

    private static Proof named(String oid, org.bouncycastle.asn1.ASN1Encodable parameters, byte[] value)
            throws Exception {
        var id = new org.bouncycastle.asn1.ASN1ObjectIdentifier(oid);
        byte[] told = (parameters == null
                        ? new org.bouncycastle.asn1.x509.AlgorithmIdentifier(id)
                        : new org.bouncycastle.asn1.x509.AlgorithmIdentifier(id, parameters))
                .getEncoded("DER");
        return new Proof(Proof.SIGNATURE, Bytes.join(new byte[] {(byte) told.length}, told, value));
    }

    @Test
    void largerCurvesSignWithTheirOwnHashes() throws Exception {
        for (int bits : new int[] {384, 521}) {
            var generator = java.security.KeyPairGenerator.getInstance("EC");
            generator.initialize(new java.security.spec.ECGenParameterSpec("secp" + bits + "r1"));
            CertificateKey key = CertificateKey.ofPrivate(
                    Secret.of(generator.generateKeyPair().getPrivate().getEncoded()));
            byte[] certificate = certificate(key);
            Proof old = Proof.signed(key, "octets".getBytes(), false);
            assertThat(old.method()).isEqualTo(bits == 384 ? Proof.ECDSA_384 : Proof.ECDSA_521);
            assertThat(old.isBy(certificate, "octets".getBytes())).isTrue();
            assertThat(Proof.signed(key, "octets".getBytes(), true).isBy(certificate, "octets".getBytes()))
                    .isTrue();
        }
    }

    private static byte[] certificate(CertificateKey key) {
        return House.OURS.sign(
                Purpose.CLIENT,
                "mara",
                List.of(),
                key.publicKey(),
                House.NOW,
                House.NOW.plusSeconds(9_999),
                Optional.empty(),
                House.RANDOM);
    }

    // settings

    private static IkeSettings of(IkeConnection.Proof proof, String from, String to, IkeSettings.Added added) {
        House.Pair mara = House.signed(House.OURS, Purpose.CLIENT, "mara", -9, 90);
        boolean certified = proof == IkeConnection.Proof.CERTIFICATE;
        String section = new IkeConnection(
                        "orrin",
                        Host.parse(House.SERVER),
                        House.SERVER,
                        proof,
                        "mara",
                        certified ? Optional.of("mara.pem") : Optional.empty(),
                        Optional.of("authority.pem"),
                        List.of(Cidr.parse("10.20.0.0/24")))
                .swanctl();
        assertThat(section).contains(from);
        return IkeSettings.of(
                new IkeProfile(
                        section.replace(from, to),
                        certified ? Optional.of(mara.pem()) : Optional.empty(),
                        certified ? Optional.of(Secret.of(mara.keyPem())) : Optional.empty(),
                        Optional.of(tender.core.certificate.PemText.write("CERTIFICATE", House.OURS.certificate()))),
                added);
    }

    @Test
    void settingsComeFromTheSectionAndItsParts() {
        IkeSettings s = of(IkeConnection.Proof.CERTIFICATE, "", "", IkeSettings.Added.NOTHING);
        assertThat(s.proof()).isEqualTo("pubkey");
        assertThat(s.chain()).hasSize(1);
        assertThat(s.key()).isPresent();
        assertThat(s.server()).contains(House.SERVER);
        assertThat(s.authorities()).hasSize(1);
        assertThat(s.reach()).containsExactly(Cidr.parse("10.20.0.0/24"));
        assertThat(s.port()).isEqualTo(500);
        assertThat(s.onlyNatPort()).isFalse();
        IkeSettings other = s.calling(4500);
        assertThat(other.port()).isEqualTo(4500);
        assertThat(other.onlyNatPort()).isTrue();
        assertThat(other.chain()).isEqualTo(s.chain());
        assertThat(s.ike()).isNotEmpty().allMatch(p -> p.one(Transform.GROUP).isPresent());
        IkeSettings eap = of(
                IkeConnection.Proof.PASSWORD,
                "",
                "",
                new IkeSettings.Added(Optional.empty(), Optional.of(Secret.of("x"))));
        assertThat(eap.proof()).isEqualTo("eap-mschapv2");
        assertThat(eap.user()).contains("mara");
        assertThat(eap.secret()).isPresent();
        assertThat(eap.chain()).isEmpty();
        assertThat(of(
                                IkeConnection.Proof.PASSWORD,
                                "",
                                "",
                                new IkeSettings.Added(Optional.of("ilse"), Optional.empty()))
                        .user())
                .contains("ilse");
        IkeSettings psk = of(IkeConnection.Proof.SHARED_SECRET, "", "", IkeSettings.Added.NOTHING);
        assertThat(psk.proof()).isEqualTo("psk");
        assertThat(psk.serverProof()).isEqualTo("psk");
        assertThatThrownBy(() ->
                        of(IkeConnection.Proof.CERTIFICATE, "auth = pubkey", "auth = xauth", IkeSettings.Added.NOTHING))
                .isInstanceOf(MalformedException.class);
    }
}
