package tender.core.explain;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigInteger;
import java.util.EnumSet;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import tender.core.explain.Chooser.Need;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.office.Network;
import tender.core.office.Protocol;

class ExplainTest {
    @ParameterizedTest
    @CsvSource({
        "10.20.4.0/24, 255.255.255.0, 10.20.4.1, 10.20.4.254, 254",
        "10.20.4.128/25, 255.255.255.128, 10.20.4.129, 10.20.4.254, 126",
        "10.20.4.4/30, 255.255.255.252, 10.20.4.5, 10.20.4.6, 2",
        "10.20.4.4/31, 255.255.255.254, 10.20.4.4, 10.20.4.5, 2",
        "10.20.4.4/32, 255.255.255.255, 10.20.4.4, 10.20.4.4, 1",
        "0.0.0.0/0, 0.0.0.0, 0.0.0.1, 255.255.255.254, 4294967294",
        "fd00:20::/64, , fd00:20::, fd00:20::ffff:ffff:ffff:ffff, 18446744073709551616"
    })
    void aNetworkInWords(String network, String mask, String first, String last, String usable) {
        NetworkWords words = NetworkWords.of(Network.plain("n", Cidr.parse(network)));

        assertThat(words.mask().map(Object::toString)).isEqualTo(Optional.ofNullable(mask));
        assertThat(words.firstUsable()).hasToString(first);
        assertThat(words.lastUsable()).hasToString(last);
        assertThat(words.usable()).isEqualTo(new BigInteger(usable));
    }

    @Test
    void poolAndFixedAddressesAreCountedAndChecked() {
        NetworkWords words = NetworkWords.of(new Network(
                "office",
                Cidr.parse("10.20.4.0/24"),
                Optional.of(Network.Pool.parse("10.20.4.100-10.20.4.199")),
                Map.of("printer", IpAddress.parse("10.20.4.9"), "crane", IpAddress.parse("10.20.4.150"))));

        assertThat(words.leased()).isEqualTo(BigInteger.valueOf(100));
        assertThat(words.reserved()).isEqualTo(2);
        assertThat(words.rest()).isEqualTo(BigInteger.valueOf(153));
        assertThat(words.notes()).containsExactly("crane has 10.20.4.150, which the pool lends to others too.");
    }

    @Test
    void choosesByNeedsWithReasons() {
        assertThat(Chooser.choose(EnumSet.of(Need.STRICT_NETWORKS, Need.PHONES))
                        .get(0)
                        .protocol())
                .isEqualTo(Protocol.OPENVPN);
        assertThat(Chooser.choose(EnumSet.of(Need.NOTHING_TO_INSTALL, Need.PHONES))
                        .get(0)
                        .protocol())
                .isEqualTo(Protocol.IKEV2);
        Chooser.Choice first = Chooser.choose(EnumSet.of(Need.SPEED, Need.ROAMING, Need.FEW_SECRETS))
                .get(0);
        assertThat(first.protocol()).isEqualTo(Protocol.WIREGUARD);
        assertThat(first.speaksFor()).hasSize(3);
        assertThat(Chooser.choose(EnumSet.allOf(Need.class)).stream().map(Chooser.Choice::protocol))
                .doesNotContain(Protocol.PPTP);
    }

    @ParameterizedTest
    @EnumSource(Need.class)
    void everyNeedIsAnsweredForEveryType(Need need) {
        assertThat(Chooser.choose(EnumSet.of(need)))
                .allSatisfy(
                        c -> assertThat(c.speaksFor().size() + c.speaksAgainst().size() - (c.weak() ? 1 : 0))
                                .isEqualTo(1));
    }

    @ParameterizedTest
    @EnumSource(Attribute.class)
    void everyAttributeIsExplainedInPlainSentences(Attribute attribute) {
        assertThat(attribute.does()).matches("[A-Z].*\\.").hasSizeLessThan(140);
        assertThat(attribute.costs()).matches("[A-Z].*\\.").hasSizeLessThan(140);
        assertThat(attribute.safe()).isNotBlank();
        assertThat(Attribute.ofWord(attribute.word())).contains(attribute);
    }
}
