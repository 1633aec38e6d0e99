package tender.core.network;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.math.BigInteger;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.wire.MalformedException;

/** Networks held against plain arithmetic over whole numbers. */
class CidrTest {
    private static BigInteger number(IpAddress a) {
        return new BigInteger(1, a.toBytes());
    }

    private static IpAddress random(Random random) {
        byte[] bytes = new byte[random.nextBoolean() ? 4 : 16];
        random.nextBytes(bytes);
        return IpAddress.ofBytes(bytes);
    }

    @Test
    void firstLastAndContentsAreWhatTheNumbersSay() {
        Random random = new Random(3);
        for (int i = 0; i < 3_000; i++) {
            IpAddress inside = random(random);
            int bits = inside.family().bits();
            int prefix = random.nextInt(bits + 1);
            Cidr network = Cidr.of(inside, prefix);
            BigInteger size = BigInteger.ONE.shiftLeft(bits - prefix);
            BigInteger first = number(inside).divide(size).multiply(size);
            assertThat(number(network.first())).isEqualTo(first);
            assertThat(number(network.last())).isEqualTo(first.add(size).subtract(BigInteger.ONE));
            assertThat(network.contains(inside)).isTrue();
            assertThat(network.contains(network.last())).isTrue();
            assertThat(network.isEverything()).isEqualTo(prefix == 0);
            assertThat(Cidr.parse(network.toString())).isEqualTo(network);
            assertThat(network.toString()).isEqualTo(network.first() + "/" + prefix);
            if (prefix > 0) {
                assertThat(network.contains(network.last().plus(1))).isFalse();
                assertThat(network.contains(network.first().plus(-1))).isFalse();
                Cidr wider = Cidr.of(inside, prefix - 1);
                assertThat(wider.contains(network)).isTrue();
                assertThat(network.contains(wider)).isFalse();
                assertThat(network.overlaps(wider)).isTrue();
                assertThat(wider.overlaps(network)).isTrue();
                assertThat(wider.compareTo(network)).isNotZero();
            }
            assertThat(Cidr.host(inside)).isEqualTo(Cidr.of(inside, bits));
            IpAddress other = random(random);
            assertThat(Integer.signum(inside.compareTo(other)))
                    .isEqualTo(
                            inside.family() != other.family()
                                    ? inside.isV4() ? -1 : 1
                                    : number(inside).compareTo(number(other)));
        }
    }

    @Test
    void networksOfTheTwoFamiliesShareNothing() {
        assertThat(Cidr.EVERYTHING_V4.contains(IpAddress.parse("::1"))).isFalse();
        assertThat(Cidr.EVERYTHING_V4.overlaps(Cidr.EVERYTHING_V6)).isFalse();
        assertThat(Cidr.EVERYTHING_V4.contains(Cidr.EVERYTHING_V6)).isFalse();
    }

    @Test
    void masksComeBackAndOnlyMasksAreRead() {
        for (int prefix = 0; prefix <= 32; prefix++) {
            Cidr network = Cidr.of(IpAddress.parse("203.0.113.77"), prefix);
            IpAddress mask = network.mask().orElseThrow();
            assertThat(number(mask).bitCount()).isEqualTo(prefix);
            assertThat(Cidr.ofMask(IpAddress.parse("203.0.113.77"), mask)).isEqualTo(network);
        }
        assertThat(Cidr.parse("10.0.0.0/22").mask()).contains(IpAddress.parse("255.255.252.0"));
        assertThat(Cidr.parse("fd00::/8").mask()).isEmpty();
        for (String none : new String[] {"255.0.255.0", "0.0.0.1", "255.255.255.253"}) {
            assertThatThrownBy(() -> Cidr.ofMask(IpAddress.parse("10.0.0.0"), IpAddress.parse(none)))
                    .isInstanceOf(MalformedException.class);
        }
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "10.0.0.0",
                "10.0.0.0/",
                "10.0.0.0/33",
                "10.0.0.0/-1",
                "10.0.0.0/08",
                "10.0.0.0/8 ",
                "/8",
                "10.0.0.1/24",
                "fd00::/129",
                "fd00::1/64",
                "10.0.0.0/255.0.0.0",
                "10.0.0.0/8/8"
            })
    void refusesWhatIsNoNetwork(String text) {
        assertThatThrownBy(() -> Cidr.parse(text)).isInstanceOf(MalformedException.class);
    }

    @Test
    void whatIsBeyondThePrefixIsNamed() {
        assertThatThrownBy(() -> Cidr.parse("10.20.4.1/24")).hasMessageContaining("10.20.4.0/24");
    }

    @ParameterizedTest
    @CsvSource({"10.20.4.1/24, 10.20.4.0/24", "fd00::7/64, fd00::/64", "10.20.4.1, 10.20.4.1/32", "::7, ::7/128"})
    void anAddressOnAnInterfaceHasItsNetwork(String text, String network) {
        InterfaceAddress read = InterfaceAddress.parse(text);
        assertThat(read.network()).hasToString(network);
        assertThat(read.toString()).startsWith(text);
        assertThat(read.address()).isEqualTo(IpAddress.parse(text.split("/")[0]));
        assertThatThrownBy(() -> InterfaceAddress.parse("/24")).isInstanceOf(MalformedException.class);
    }

    @ParameterizedTest
    @CsvSource({
        "127.0.0.1, true, true",
        "127.255.255.254, true, true",
        "126.255.255.255, false, false",
        "169.254.169.254, true, true",
        "100.100.100.200, true, true",
        "100.100.100.201, true, false",
        "0.0.0.0, false, true",
        "0.1.2.3, false, true",
        "1.0.0.0, false, false",
        "10.0.0.1, true, false",
        "172.31.255.255, true, false",
        "172.32.0.0, false, false",
        "::, false, true",
        "::1, true, true",
        "::2, false, false",
        "fe80::1, true, true",
        "fd00:ec2::254, true, true",
        "fd00::1, true, false",
        "2001:db8::1, false, false",
        "::ffff:127.0.0.1, true, true",
        "::ffff:8.8.8.8, false, false",
        "64:ff9b::127.0.0.1, true, true",
        "64:ff9b::10.0.0.1, true, false",
        "64:ff9b::8.8.8.8, false, false",
        "64:ff9b:0:1::127.0.0.1, false, false",
        "64:ff9b::1:7f00:1, false, false",
        "1::ffff:127.0.0.1, false, false",
        "::fffe:127.0.0.1, false, false"
    })
    void tellsInsideAddressesAndThoseOfThisMachine(String text, boolean inside, boolean local) {
        assertThat(AddressKinds.isPrivate(IpAddress.parse(text))).as("private").isEqualTo(inside);
        assertThat(AddressKinds.isLocalOnly(IpAddress.parse(text))).as("local").isEqualTo(local);
    }

    @Test
    void whatHomesCommonlyHaveIsTold() {
        assertThat(CommonNetworks.meeting(Cidr.parse("192.168.0.0/16"))).contains(Cidr.parse("192.168.0.0/24"));
        assertThat(CommonNetworks.meeting(Cidr.parse("192.168.1.128/25"))).contains(Cidr.parse("192.168.1.0/24"));
        assertThat(CommonNetworks.meeting(Cidr.parse("10.20.4.0/24"))).isEmpty();
    }

    @Test
    void transportsHaveTheirWords() {
        assertThat(Transport.UDP.word()).isEqualTo("udp");
        assertThat(Transport.TCP.word()).isEqualTo("tcp");
    }

    @Test
    void countingGoesBothWaysAndAroundTheEnd() {
        assertThat(IpAddress.parse("255.255.255.255").plus(1)).hasToString("0.0.0.0");
        assertThat(IpAddress.parse("0.0.0.0").plus(-1)).hasToString("255.255.255.255");
        assertThat(IpAddress.parse("::").plus(-1)).hasToString("ffff:ffff:ffff:ffff:ffff:ffff:ffff:ffff");
        assertThat(IpAddress.parse("fd00::5").plus(0)).hasToString("fd00::5");
        assertThat(IpAddress.parse("fd00::5").plus(-5)).hasToString("fd00::");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "1:2:3:4:5:6:7:",
                ":1:2:3:4:5:6:7",
                "1:2:3:4:5:6::7:8",
                "::1:2:3:4:5:6:7:8",
                "1.2.3.4::",
                "1:2:3:4:5:6:7:1.2.3.4"
            })
    void refusesIpv6OfTheWrongLength(String text) {
        assertThatThrownBy(() -> IpAddress.parse(text)).isInstanceOf(MalformedException.class);
    }

    @ParameterizedTest
    @CsvSource({
        "1:2:3:4:5:6:1.2.3.4, 1:2:3:4:5:6:102:304",
        "::1.2.3.4, ::102:304",
        "1::3:4:5:6:7:8, 1:0:3:4:5:6:7:8",
        "1:2:3:4:5:6:7::, 1:2:3:4:5:6:7:0",
        "ABCD:ef01::9, abcd:ef01::9"
    })
    void readsIpv6InAllItsForms(String text, String canonical) {
        assertThat(IpAddress.parse(text)).hasToString(canonical);
    }

    @Test
    void theLongestFormIsReadAndALongerTextIsNot() {
        String longest = "0000:0000:0000:0000:0000:ffff:255.255.255.255";
        assertThat(longest).hasSize(45);
        assertThat(IpAddress.parse(longest)).hasToString("::ffff:ffff:ffff");
        assertThatThrownBy(() -> IpAddress.ofBytes(new byte[5])).isInstanceOf(MalformedException.class);
        assertThatThrownBy(() -> new IpAddress(IpAddress.Family.V4, 1, 0)).isInstanceOf(MalformedException.class);
        assertThatThrownBy(() -> new IpAddress(IpAddress.Family.V4, 0, 1L << 32))
                .isInstanceOf(MalformedException.class);
    }
}
