package tender.core.profile;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.UUID;
import org.junit.jupiter.api.Test;

class FileNameTest {
    private static String first(String who, String device, String where) {
        return FileName.of(
                FileName.stems(who, device, where, "0123456789abcdef").get(0), 1);
    }

    @Test
    void aNameSaysWhoWhichDeviceWhereAndWhichRevision() {
        assertThat(first("mara", "phone", "pier2")).isEqualTo("mara-ph-pi2-r1.conf");
        assertThat(first("mara", "laptop", "pier2")).isEqualTo("mara-la-pi2-r1.conf");
        assertThat(first("mara", "phone", "pier1")).isEqualTo("mara-ph-pi1-r1.conf");
        assertThat(first("bo", "la", "fw")).isEqualTo("bo-la-fw-r1.conf");
        assertThat(FileName.openVpn("bo-la-fw", 3)).isEqualTo("bo-la-fw-r3.ovpn");
    }

    @Test
    void everyNameIsAnInterfaceNameWhateverThePartsAre() {
        for (String who : List.of("m", "bartholomew.grimshaw", "ö", "a1")) {
            for (String device : List.of("p", "travel-router", "phone2", "")) {
                for (String where : List.of("x", "port-orrin-front", "pier12")) {
                    assertThat(FileName.stems(
                                    who, device, where, UUID.randomUUID().toString()))
                            .hasSizeGreaterThan(9)
                            .allSatisfy(stem -> assertThat(stem + "-r99")
                                    .matches("[a-z0-9]+-[a-z0-9]+-[a-z0-9]+-r99")
                                    .hasSizeLessThanOrEqualTo(15));
                }
            }
        }
    }

    @Test
    void aThousandAlikeGetNamesOfTheirOwn() {
        Set<String> taken = new HashSet<>();
        for (int i = 0; i < 1_000; i++) {
            boolean found = FileName.stems(
                            "mara", "phone", "pier2", UUID.randomUUID().toString())
                    .stream()
                    .anyMatch(taken::add);
            assertThat(found).as("profile " + i).isTrue();
        }
    }
}
