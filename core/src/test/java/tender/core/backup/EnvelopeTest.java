package tender.core.backup;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.List;
import java.util.TreeMap;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.credential.Secret;
import tender.core.wire.MalformedException;

class EnvelopeTest {
    private static final Secret PASSPHRASE = Secret.of("pier two, é, in winter");

    private static Snapshot snapshot(String... pathsAndTexts) {
        TreeMap<String, byte[]> files = new TreeMap<>();
        for (int i = 0; i < pathsAndTexts.length; i += 2) {
            files.put(pathsAndTexts[i], pathsAndTexts[i + 1].getBytes(StandardCharsets.UTF_8));
        }
        return new Snapshot(files);
    }

    @Test
    void opensWithItsPassphraseAlone() {
        byte[] sealed = Envelope.seal("secret".getBytes(), PASSPHRASE, new SecureRandom());

        assertThat(Envelope.open(sealed, PASSPHRASE)).isEqualTo("secret".getBytes());
        assertThatThrownBy(() -> Envelope.open(sealed, Secret.of("another one here")))
                .isInstanceOf(MalformedException.class);
        byte[] changed = sealed.clone();
        changed[changed.length - 20] ^= 1;
        assertThatThrownBy(() -> Envelope.open(changed, PASSPHRASE)).isInstanceOf(MalformedException.class);
        assertThatThrownBy(() -> Envelope.open(new byte[40], PASSPHRASE)).isInstanceOf(MalformedException.class);
    }

    @Test
    void refusesAShortPassphrase() {
        assertThatThrownBy(() -> Envelope.seal(new byte[1], Secret.of("short"), new SecureRandom()))
                .isInstanceOf(MalformedException.class);
    }

    @Test
    void aSnapshotComesBackAndEqualOnesAreEqualBytes() {
        Snapshot snapshot = snapshot("general.conf", "name = pier2", "tunnels/wg0.conf", "[Interface]\n");
        Snapshot read = Snapshot.ofZip(snapshot.toZip());

        assertThat(read.digest()).isEqualTo(snapshot.digest());
        assertThat(read.files()).containsOnlyKeys("general.conf", "tunnels/wg0.conf");
        assertThat(read.toZip()).isEqualTo(snapshot.toZip());
    }

    @ParameterizedTest
    @ValueSource(strings = {"../etc/passwd", "/etc/passwd", "a/../../b", "a\\..\\b", "folder/"})
    void refusesPathsThatLeadOutside(String path) throws Exception {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (ZipOutputStream zip = new ZipOutputStream(out)) {
            zip.putNextEntry(new ZipEntry(path));
            zip.closeEntry();
        }
        assertThatThrownBy(() -> Snapshot.ofZip(out.toByteArray())).isInstanceOf(MalformedException.class);
    }

    @Test
    void refusesAnArchiveThatUnpacksToMoreThanABackupHolds() throws Exception {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (ZipOutputStream zip = new ZipOutputStream(out)) {
            zip.putNextEntry(new ZipEntry("zeros"));
            byte[] zeros = new byte[1 << 20];
            for (int i = 0; i < 66; i++) {
                zip.write(zeros);
            }
            zip.closeEntry();
        }
        assertThatThrownBy(() -> Snapshot.ofZip(out.toByteArray()))
                .isInstanceOf(MalformedException.class)
                .hasMessageContaining("more than a backup");
    }

    @Test
    void comparesFileByFileWithoutKeepingLines() {
        Snapshot before = snapshot("a", "1\n2\n", "b", "x\n", "same", "s");
        Snapshot after = snapshot("a", "2\n3\n4\n", "c", "y\n", "same", "s");

        assertThat(Comparison.between(before, after))
                .isEqualTo(List.of(
                        new Comparison.Difference("a", Comparison.Kind.CHANGED, 2, 1),
                        new Comparison.Difference("b", Comparison.Kind.REMOVED, 0, 1),
                        new Comparison.Difference("c", Comparison.Kind.ADDED, 1, 0)));
    }

    @Test
    void anEnvelopeThatAsksForEndlessStretchingIsRefusedBeforeItIsTried() {
        long began = System.nanoTime();
        assertThatThrownBy(() -> Envelope.open(rounds(100_000_000), PASSPHRASE))
                .isInstanceOf(MalformedException.class)
                .hasMessageContaining("bounded cost");
        assertThat(System.nanoTime() - began).isLessThan(5_000_000_000L);
    }

    /** An envelope for as many rounds, as another program could write it; its key need not fit. */
    private static byte[] rounds(int count) {
        try {
            var info = org.bouncycastle.asn1.cms.ContentInfo.getInstance(
                    Envelope.seal("secret".getBytes(), PASSPHRASE, new SecureRandom()));
            return replaced(info.toASN1Primitive(), count).getEncoded("DER");
        } catch (java.io.IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    private static org.bouncycastle.asn1.ASN1Encodable asn1(org.bouncycastle.asn1.ASN1Encodable in, int count) {
        return replaced(in.toASN1Primitive(), count);
    }

    private static org.bouncycastle.asn1.ASN1Primitive replaced(org.bouncycastle.asn1.ASN1Primitive in, int count) {
        if (in instanceof org.bouncycastle.asn1.ASN1Integer n && n.hasValue(Envelope.ROUNDS)) {
            return new org.bouncycastle.asn1.ASN1Integer(count);
        }
        if (in instanceof org.bouncycastle.asn1.ASN1Sequence s) {
            org.bouncycastle.asn1.ASN1EncodableVector out = new org.bouncycastle.asn1.ASN1EncodableVector();
            s.forEach(e -> out.add(asn1(e, count)));
            return new org.bouncycastle.asn1.DERSequence(out);
        }
        if (in instanceof org.bouncycastle.asn1.ASN1Set s) {
            org.bouncycastle.asn1.ASN1EncodableVector out = new org.bouncycastle.asn1.ASN1EncodableVector();
            s.forEach(e -> out.add(asn1(e, count)));
            return new org.bouncycastle.asn1.DERSet(out);
        }
        if (in instanceof org.bouncycastle.asn1.ASN1TaggedObject t) {
            try {
                return new org.bouncycastle.asn1.DERTaggedObject(
                        t.isExplicit(),
                        t.getTagNo(),
                        asn1(t.isExplicit() ? t.getExplicitBaseObject() : t.getBaseObject(), count));
            } catch (RuntimeException e) {
                return t;
            }
        }
        return in;
    }

    @Test
    void aSnapshotsDigestIsItsContents() {
        String digest = snapshot("a", "1").digest();
        assertThat(digest).hasSize(64).isEqualTo(snapshot("a", "1").digest());
        assertThat(List.of(
                        snapshot("a", "2").digest(),
                        snapshot("b", "1").digest(),
                        snapshot("a", "1", "b", "").digest(),
                        snapshot().digest()))
                .doesNotContain(digest)
                .doesNotHaveDuplicates();
    }

    @Test
    void refusesAnArchiveWithMoreFilesThanABackupHolds() throws Exception {
        for (int files : new int[] {Snapshot.MAX_FILES, Snapshot.MAX_FILES + 1}) {
            ByteArrayOutputStream out = new ByteArrayOutputStream();
            try (ZipOutputStream zip = new ZipOutputStream(out)) {
                for (int i = 0; i < files; i++) {
                    zip.putNextEntry(new ZipEntry("f" + i));
                }
            }
            if (files == Snapshot.MAX_FILES) {
                assertThat(Snapshot.ofZip(out.toByteArray()).files()).hasSize(files);
            } else {
                assertThatThrownBy(() -> Snapshot.ofZip(out.toByteArray())).hasMessageContaining("more than a backup");
            }
        }
    }
}
