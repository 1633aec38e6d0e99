package tender.core.openvpn;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.Arrays;
import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import javax.crypto.Cipher;
import javax.crypto.Mac;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.IvParameterSpec;
import javax.crypto.spec.SecretKeySpec;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.wire.MalformedException;

/** What stands on the wire, byte for byte, worked out a second time with the platform's own ciphers. */
class WireBytesTest {
    private static final Instant NOW = Instant.parse("2026-11-23T12:00:00Z");
    private static final byte[] SESSION = {1, 2, 3, 4, 5, 6, 7, 8};
    private static final byte[] OTHER = {8, 7, 6, 5, 4, 3, 2, 1};

    /** A random source that counts up, so that what it gave is known. */
    private static final class Counting extends SecureRandom {
        private static final long serialVersionUID = 1;
        private int next;

        @Override
        public void nextBytes(byte[] bytes) {
            for (int i = 0; i < bytes.length; i++) {
                bytes[i] = (byte) next++;
            }
        }
    }

    private static byte[] keys() {
        byte[] out = new byte[256];
        new Counting().nextBytes(out);
        return out;
    }

    private static String keyText() {
        return "-----BEGIN OpenVPN Static key V1-----\n"
                + HexFormat.of().formatHex(keys()).replaceAll("(.{32})", "$1\n")
                + "-----END OpenVPN Static key V1-----\n";
    }

    private static byte[] hmac(String algorithm, byte[] key, byte[]... parts) throws Exception {
        Mac mac = Mac.getInstance(algorithm);
        mac.init(new SecretKeySpec(key, algorithm));
        for (byte[] p : parts) {
            mac.update(p);
        }
        return mac.doFinal();
    }

    private static byte[] part(byte[] of, int from, int length) {
        return Arrays.copyOfRange(of, from, from + length);
    }

    private static ControlPacket packet() {
        return new ControlPacket(
                ControlPacket.CONTROL,
                SESSION,
                List.of(0x01020304, 7),
                Optional.of(OTHER),
                Optional.of(0x0a0b0c0d),
                new byte[] {9, 9, 9});
    }

    private static final String REST = "02" + "01020304" + "00000007" + "0807060504030201" + "0a0b0c0d" + "090909";

    @Test
    void aControlPacketIsNumbersAcknowledgementsAndPayload() {
        assertThat(HexFormat.of().formatHex(packet().header())).isEqualTo("20" + "0102030405060708");
        assertThat(HexFormat.of().formatHex(packet().rest())).isEqualTo(REST);
        ControlPacket read = ControlPacket.read(ControlPacket.CONTROL, SESSION, packet().rest());
        assertThat(read.acks()).containsExactly(0x01020304, 7);
        assertThat(read.remoteSession()).hasValueSatisfying(s -> assertThat(s).isEqualTo(OTHER));
        assertThat(read.id()).contains(0x0a0b0c0d);
        assertThat(read.payload()).containsExactly(9, 9, 9);
        byte[] eight = new byte[1 + 8 * 4 + 8 + 4];
        eight[0] = 8;
        assertThat(ControlPacket.read(ControlPacket.CONTROL, SESSION, eight).acks())
                .hasSize(8);
        byte[] nine = new byte[1 + 9 * 4 + 8 + 4];
        nine[0] = 9;
        assertThatThrownBy(() -> ControlPacket.read(ControlPacket.CONTROL, SESSION, nine))
                .isInstanceOf(MalformedException.class);
        assertThat(ControlPacket.read(ControlPacket.ACK, SESSION, new byte[] {0})
                        .id())
                .isEmpty();
    }

    @ParameterizedTest
    @CsvSource({
        "SHA256,HmacSHA256,32",
        "SHA1,HmacSHA1,20",
        "SHA512,HmacSHA512,64",
        "MD5,HmacMD5,16",
        "SHA224,HmacSHA224,28",
        "SHA384,HmacSHA384,48",
        "RSA-SHA256,HmacSHA256,32"
    })
    void tlsAuthPutsTheMacBehindTheSession(String digest, String algorithm, int length) throws Exception {
        ControlChannelProtection client = ControlChannelProtection.auth(keyText(), Optional.of(1), digest);
        assertThat(client.protects()).isTrue();
        assertThat(client.firstOpcode()).isEqualTo(ControlPacket.CLIENT_RESET);
        for (int number = 1; number <= 3; number++) {
            byte[] wire = client.wrap(packet(), NOW);
            byte[] stamp = ByteBuffer.allocate(8)
                    .putInt(number)
                    .putInt((int) NOW.getEpochSecond())
                    .array();
            byte[] rest = HexFormat.of().parseHex(REST);
            byte[] mac = hmac(algorithm, part(keys(), 128 + 64, length), stamp, packet().header(), rest);
            assertThat(wire).isEqualTo(ControlChannelProtection.join(packet().header(), mac, stamp, rest));
        }
        // without a direction both ways have the first half
        byte[] wire = ControlChannelProtection.auth(keyText(), Optional.empty(), digest)
                .wrap(packet(), NOW);
        byte[] stamp = ByteBuffer.allocate(8)
                .putInt(1)
                .putInt((int) NOW.getEpochSecond())
                .array();
        assertThat(part(wire, 9, length))
                .isEqualTo(hmac(algorithm, part(keys(), 64, length), stamp, packet().header(), packet().rest()));
    }

    @Test
    void tlsCryptSealsBehindATagThatIsAlsoItsStart() throws Exception {
        byte[] wire = ControlChannelProtection.crypt(keyText()).wrap(packet(), NOW);
        byte[] stamp = ByteBuffer.allocate(8)
                .putInt(1)
                .putInt((int) NOW.getEpochSecond())
                .array();
        byte[] rest = HexFormat.of().parseHex(REST);
        byte[] tag = hmac("HmacSHA256", part(keys(), 128 + 64, 32), packet().header(), stamp, rest);
        Cipher cipher = Cipher.getInstance("AES/CTR/NoPadding");
        cipher.init(
                Cipher.ENCRYPT_MODE,
                new SecretKeySpec(part(keys(), 128, 32), "AES"),
                new IvParameterSpec(part(tag, 0, 16)));
        assertThat(wire).isEqualTo(ControlChannelProtection.join(packet().header(), stamp, tag, cipher.doFinal(rest)));
        ControlChannelProtection server = ControlChannelProtection.cryptOfServer(keyText());
        assertThat(server.unwrap(wire))
                .hasValueSatisfying(p -> assertThat(p.payload()).containsExactly(9, 9, 9));
        for (int cut = 0; cut < wire.length; cut++) {
            assertThat(server.unwrap(Arrays.copyOf(wire, cut))).isEmpty();
        }
    }

    @Test
    void tlsCryptV2SendsTheWrappedKeyWithTheFirstPacketAndWhereAskedAgain() {
        byte[] wrapped = {71, 72, 73, 74, 75};
        String own = "-----BEGIN OpenVPN tls-crypt-v2 client key-----\n"
                + Base64.getMimeEncoder().encodeToString(ControlChannelProtection.join(keys(), wrapped))
                + "\n-----END OpenVPN tls-crypt-v2 client key-----\n";
        ControlChannelProtection client = ControlChannelProtection.cryptV2(own);
        assertThat(client.firstOpcode()).isEqualTo(ControlPacket.CLIENT_RESET_V3);
        for (int opcode :
                new int[] {ControlPacket.CLIENT_RESET_V3, ControlPacket.CONTROL, ControlPacket.CONTROL_WITH_KEY}) {
            ControlPacket p =
                    new ControlPacket(opcode, SESSION, List.of(), Optional.empty(), Optional.of(0), new byte[4]);
            byte[] wire = client.wrap(p, NOW);
            boolean withKey = opcode != ControlPacket.CONTROL;
            int bare = 9 + 8 + 32 + p.rest().length;
            assertThat(wire).hasSize(bare + (withKey ? wrapped.length : 0));
            if (withKey) {
                assertThat(part(wire, bare, wrapped.length)).isEqualTo(wrapped);
            }
            assertThat(ControlChannelProtection.cryptOfServer(keyText()).unwrap(Arrays.copyOf(wire, bare)))
                    .isPresent();
        }
        assertThat(ByteBuffer.wrap(ControlChannelProtection.cryptV2(own).wrap(packet(), NOW), 9, 4)
                        .getInt())
                .as("tells that the key can be sent again")
                .isEqualTo(0x0f000001);
        for (int length : new int[] {256, 257, 256 + 1024, 256 + 1025}) {
            String text = Base64.getEncoder().encodeToString(new byte[length]);
            if (length == 257 || length == 1280) {
                assertThat(ControlChannelProtection.cryptV2(text)).isNotNull();
            } else {
                assertThatThrownBy(() -> ControlChannelProtection.cryptV2(text)).isInstanceOf(MalformedException.class);
            }
        }
        assertThat(ControlChannelProtection.none().protects()).isFalse();
    }

    @Test
    void aGcmPacketHasItsNumberThenItsTag() throws Exception {
        byte[] inner = "an ip packet".getBytes();
        DataChannel client = new DataChannel("aes-128-gcm", "SHA1", 0x010203, keys(), new SecureRandom());
        for (int number = 1; number <= 2; number++) {
            byte[] wire = client.seal(inner);
            byte[] header = {0x48, 1, 2, 3};
            byte[] n = {0, 0, 0, (byte) number};
            Cipher gcm = Cipher.getInstance("AES/GCM/NoPadding");
            gcm.init(
                    Cipher.ENCRYPT_MODE,
                    new SecretKeySpec(part(keys(), 0, 16), "AES"),
                    new GCMParameterSpec(128, ControlChannelProtection.join(n, part(keys(), 64, 8))));
            gcm.updateAAD(ControlChannelProtection.join(header, n));
            byte[] sealed = gcm.doFinal(inner);
            assertThat(wire)
                    .isEqualTo(ControlChannelProtection.join(
                            header, n, part(sealed, sealed.length - 16, 16), part(sealed, 0, sealed.length - 16)));
        }
        // the older form of packets
        byte[] old = new DataChannel("AES-256-GCM", "SHA1", -1, keys(), new SecureRandom()).seal(inner);
        assertThat(old[0]).isEqualTo((byte) 0x30);
        assertThat(old).hasSize(1 + 4 + 16 + inner.length);
        DataChannel server = new DataChannel("AES-256-GCM", "SHA1", -1, keys(), false, new SecureRandom());
        assertThat(server.open(old)).hasValueSatisfying(p -> assertThat(p).isEqualTo(inner));
        byte[] nothing = new DataChannel("AES-256-GCM", "SHA1", -1, keys(), new SecureRandom()).seal(new byte[0]);
        assertThat(new DataChannel("AES-256-GCM", "SHA1", -1, keys(), false, new SecureRandom()).open(nothing))
                .hasValueSatisfying(p -> assertThat(p).isEmpty());
        for (int cut = 1; cut < nothing.length; cut++) {
            assertThat(server.open(Arrays.copyOf(nothing, cut))).isEmpty();
        }
    }

    @Test
    void aCbcPacketHasItsMacThenItsStart() throws Exception {
        byte[] inner = "an ip packet".getBytes();
        byte[] wire = new DataChannel("AES-256-CBC", "SHA256", 5, keys(), new Counting()).seal(inner);
        byte[] iv = new byte[16];
        new Counting().nextBytes(iv);
        Cipher cbc = Cipher.getInstance("AES/CBC/PKCS5Padding");
        cbc.init(Cipher.ENCRYPT_MODE, new SecretKeySpec(part(keys(), 0, 32), "AES"), new IvParameterSpec(iv));
        byte[] sealed = ControlChannelProtection.join(
                iv, cbc.doFinal(ControlChannelProtection.join(new byte[] {0, 0, 0, 1}, inner)));
        byte[] mac = hmac("HmacSHA256", part(keys(), 64, 32), sealed);
        assertThat(wire).isEqualTo(ControlChannelProtection.join(new byte[] {0x48, 0, 0, 5}, mac, sealed));
        DataChannel server = new DataChannel("AES-256-CBC", "SHA256", 5, keys(), false, new SecureRandom());
        for (int cut = 1; cut < wire.length; cut++) {
            assertThat(server.open(Arrays.copyOf(wire, cut))).isEmpty();
        }
        assertThat(server.open(wire)).isPresent();
        byte[] empty = new DataChannel("AES-256-CBC", "SHA256", 5, keys(), new SecureRandom()).seal(new byte[0]);
        assertThat(new DataChannel("AES-256-CBC", "SHA256", 5, keys(), false, new SecureRandom()).open(empty))
                .hasValueSatisfying(p -> assertThat(p).isEmpty());
    }

    @ParameterizedTest
    @ValueSource(strings = {"BF-CBC", "AES-512-GCM", "none", "", "AES-256-GCM "})
    void otherCiphersAreNotTried(String cipher) {
        assertThat(OpenVpnServer.knows(cipher)).isFalse();
        assertThatThrownBy(() -> new DataChannel(cipher, "SHA1", 0, keys(), new SecureRandom()))
                .isInstanceOf(MalformedException.class);
        assertThat(OpenVpnServer.knows("aes-256-gcm")).isTrue();
    }

    @Test
    void digestsThatNobodyHasAreRefused() {
        assertThatThrownBy(() -> Digests.of("WHIRLPOOL")).isInstanceOf(MalformedException.class);
    }

    // the exchange of keys

    private static String text(String s) {
        byte[] bytes = (s + "\0").getBytes();
        return HexFormat.of().formatHex(new byte[] {(byte) (bytes.length >> 8), (byte) bytes.length})
                + HexFormat.of().formatHex(bytes);
    }

    @Test
    void theClientsMessageIsMethodTwoWithItsSecretsFirst() {
        byte[] message = new KeyExchange(new Counting()).message("V4,opts", "mara", "harbour".getBytes(), "IV_X=1\n");
        byte[] secrets = new byte[48 + 32 + 32];
        new Counting().nextBytes(secrets);
        assertThat(HexFormat.of().formatHex(message))
                .isEqualTo("00000000" + "02" + HexFormat.of().formatHex(secrets) + text("V4,opts") + text("mara")
                        + text("harbour") + text("IV_X=1\n"));
        String none = HexFormat.of().formatHex(new KeyExchange(new Counting()).message("o", "", new byte[0], ""));
        assertThat(none).endsWith(text("o") + "0000" + "0000" + "0000");

        String longName = "n".repeat(300);
        ByteArrayOutputStream left = new ByteArrayOutputStream();
        byte[] whole = ControlChannelProtection.join(
                new KeyExchange(new Counting()).message("o", longName, "pw".getBytes(), "info"), "MORE".getBytes());
        KeyExchange.Client read = KeyExchange.readClient(whole, left).orElseThrow();
        assertThat(read.preMaster()).isEqualTo(part(secrets, 0, 48));
        assertThat(read.random1()).isEqualTo(part(secrets, 48, 32));
        assertThat(read.random2()).isEqualTo(part(secrets, 80, 32));
        assertThat(read.user()).isEqualTo(longName);
        assertThat(read.password()).isEqualTo("pw".getBytes());
        assertThat(read.peerInfo()).isEqualTo("info");
        assertThat(left.toString()).isEqualTo("MORE");
        for (int cut = 0; cut < whole.length - 4; cut++) {
            assertThat(KeyExchange.readClient(Arrays.copyOf(whole, cut), new ByteArrayOutputStream()))
                    .as("cut at " + cut)
                    .isEmpty();
        }
        assertThat(KeyExchange.readClient(
                                new KeyExchange(new Counting()).message("o", "", new byte[0], ""),
                                new ByteArrayOutputStream())
                        .orElseThrow()
                        .password())
                .isEmpty();
    }

    @Test
    void theServersMessageIsReadWithWhatFollowsIt() {
        byte[] answer = new KeyExchange(new Counting()).answer("V4,tls-server");
        byte[] randoms = new byte[48 + 32 + 32];
        new Counting().nextBytes(randoms);
        assertThat(HexFormat.of().formatHex(answer))
                .isEqualTo("00000000" + "02" + HexFormat.of().formatHex(part(randoms, 48, 64)) + text("V4,tls-server")
                        + "0000" + "0000" + "0000");
        for (String more : new String[] {"", "PUSH_REPLY,ping 1\0"}) {
            ByteArrayOutputStream left = new ByteArrayOutputStream();
            KeyExchange.Server read = KeyExchange.read(ControlChannelProtection.join(answer, more.getBytes()), left)
                    .orElseThrow();
            assertThat(read.options()).isEqualTo("V4,tls-server");
            assertThat(read.random1()).isEqualTo(part(randoms, 48, 32));
            assertThat(read.random2()).isEqualTo(part(randoms, 80, 32));
            assertThat(left.toString()).isEqualTo(more);
        }
        // a server that tells name, password and more of itself
        byte[] telling = HexFormat.of()
                .parseHex("00000000" + "02" + "00".repeat(64) + text("V4") + text("srv") + text("pw") + text("IV_X=1"));
        ByteArrayOutputStream left = new ByteArrayOutputStream();
        assertThat(KeyExchange.read(ControlChannelProtection.join(telling, "AUTH_FAILED\0".getBytes()), left))
                .isPresent();
        assertThat(left.toString()).isEqualTo("AUTH_FAILED\0");
        int fixed = 4 + 1 + 64 + 2 + "V4,tls-server\0".length();
        for (int cut = 0; cut < fixed; cut++) {
            assertThat(KeyExchange.read(Arrays.copyOf(answer, cut), new ByteArrayOutputStream()))
                    .isEmpty();
        }
        assertThat(KeyExchange.read(Arrays.copyOf(answer, fixed), new ByteArrayOutputStream()))
                .isPresent();
        byte[] other = answer.clone();
        other[4] = 1;
        assertThatThrownBy(() -> KeyExchange.read(other, new ByteArrayOutputStream()))
                .isInstanceOf(MalformedException.class);
        assertThatThrownBy(() -> KeyExchange.readClient(new byte[] {0, 0, 0, 0, 1}, new ByteArrayOutputStream()))
                .isInstanceOf(MalformedException.class);
        byte[] huge = Arrays.copyOf(answer, 200);
        huge[69] = 0x20;
        huge[70] = 0x01;
        assertThatThrownBy(() -> KeyExchange.read(huge, new ByteArrayOutputStream()))
                .isInstanceOf(MalformedException.class);
        huge[70] = 0;
        assertThat(KeyExchange.read(huge, new ByteArrayOutputStream()))
                .as("8192 may still come")
                .isEmpty();
    }

    /** The pseudo-random function of RFC 2246 §5, once more. */
    private static byte[] prf(byte[] secret, String label, byte[] seed, int length) throws Exception {
        byte[] all = ControlChannelProtection.join(label.getBytes(), seed);
        int half = (secret.length + 1) / 2;
        byte[] one = expand("HmacMD5", part(secret, 0, half), all, length);
        byte[] two = expand("HmacSHA1", part(secret, secret.length - half, half), all, length);
        for (int i = 0; i < length; i++) {
            one[i] ^= two[i];
        }
        return one;
    }

    private static byte[] expand(String algorithm, byte[] secret, byte[] seed, int length) throws Exception {
        byte[] out = new byte[0];
        for (byte[] a = seed; out.length < length; ) {
            a = hmac(algorithm, secret, a);
            out = ControlChannelProtection.join(out, hmac(algorithm, secret, a, seed));
        }
        return Arrays.copyOf(out, length);
    }

    @Test
    void theOlderDerivationOfKeysIsTlsOnes() throws Exception {
        KeyExchange client = new KeyExchange(new SecureRandom());
        KeyExchange server = new KeyExchange(new SecureRandom());
        KeyExchange.Client told = KeyExchange.readClient(
                        client.message("o", "", new byte[0], ""), new ByteArrayOutputStream())
                .orElseThrow();
        KeyExchange.Server answered = KeyExchange.read(server.answer("o"), new ByteArrayOutputStream())
                .orElseThrow();

        byte[] keys = client.keys(answered, SESSION, OTHER);

        byte[] master = prf(
                told.preMaster(),
                "OpenVPN master secret",
                ControlChannelProtection.join(told.random1(), answered.random1()),
                48);
        assertThat(keys)
                .isEqualTo(prf(
                        master,
                        "OpenVPN key expansion",
                        ControlChannelProtection.join(told.random2(), answered.random2(), SESSION, OTHER),
                        256));
        assertThat(server.keys(told, SESSION, OTHER)).isEqualTo(keys);
    }
}
