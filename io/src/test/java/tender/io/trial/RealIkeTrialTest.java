package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.certificate.PemText;
import tender.core.credential.Secret;
import tender.core.ike.IkeSettings;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.profile.IkeConnection;
import tender.core.profile.IkeProfile;
import tender.core.trial.IkeLadder;
import tender.core.trial.IkeQuestion;
import tender.core.trial.Ladder;
import tender.core.trial.Wanted;
import tender.io.names.NameService;

/** Our own trial against Debian's strongSwan: what is right is proven by echo, what is wrong ends where it should. */
class RealIkeTrialTest {
    @TempDir
    static Path folder;

    private static IkeLab lab;

    @BeforeAll
    static void open() throws IOException {
        boolean able = IkeLab.able();
        if (!able) {
            System.out.println("SKIPPED: no strongSwan with its plugins, tun device or right to make namespaces here");
        }
        assumeTrue(able);
        lab = new IkeLab(folder);
    }

    @AfterAll
    static void close() {
        if (lab != null) {
            lab.close();
        }
    }

    private static String profile(IkeConnection.Proof proof, Lab.Pair own, tender.core.certificate.Authority believed) {
        return new IkeProfile(
                        new IkeConnection(
                                        "orrin",
                                        Host.parse(lab.address),
                                        Lab.SERVER_NAME,
                                        proof,
                                        "mara",
                                        own == null ? Optional.empty() : Optional.of("mara.pem"),
                                        Optional.of("authority.pem"),
                                        List.of(Cidr.parse("10.20.77.0/24")))
                                .swanctl(),
                        Optional.ofNullable(own).map(Lab.Pair::pem),
                        Optional.ofNullable(own).map(Lab.Pair::key).map(Secret::of),
                        Optional.of(PemText.write("CERTIFICATE", believed.certificate())))
                .text();
    }

    private static Ladder tried(String profile, IkeSettings.Added added) {
        IkeQuestion question = IkeQuestion.of(
                profile, added, Optional.empty(), Optional.of(IpAddress.parse(Lab.INSIDE_HOST)), Instant.now());
        return IkeLadder.judge(
                question,
                new IkeTrial(
                                question,
                                name -> new NameService.Answer(NameService.Status.UNKNOWN, List.of()),
                                Wanted.NOTHING,
                                rung -> {})
                        .run(),
                Optional.empty());
    }

    @Test
    void aGoodProfileIsProvenByEcho() throws Exception {
        lab.serve();

        Ladder ladder =
                tried(profile(IkeConnection.Proof.CERTIFICATE, lab.client, lab.authority), IkeSettings.Added.NOTHING);

        assertThat(ladder.isProven())
                .as(ladder + "\n" + String.join("\n", lab.log()))
                .isTrue();
    }
}
