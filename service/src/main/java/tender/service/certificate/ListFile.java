package tender.service.certificate;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import tender.core.backup.Snapshot;
import tender.core.certificate.PemText;
import tender.core.certificate.RevocationList;
import tender.core.device.SharedClientSettings;
import tender.core.wire.MalformedException;

/**
 * A file of revocation lists at a gateway. Lists that other authorities signed stay in it; a file that is none is never
 * replaced.
 *
 * @param ours the lists in it that our authority signed
 * @param others the lists in it that somebody else signed, as they stand
 */
record ListFile(byte[] content, List<RevocationList> ours, List<PemText.Block> others) {
    /** An empty file holds no list; a server that finds it so refuses everyone until it holds one. */
    static ListFile read(String path, byte[] content, byte[] authority) {
        List<RevocationList> ours = new ArrayList<>();
        List<PemText.Block> others = new ArrayList<>();
        String text = new String(content, StandardCharsets.ISO_8859_1);
        for (PemText.Block block : PemText.read(text).blocks()) {
            if (!block.label().equals(Revoking.LIST_LABEL)) {
                throw new MalformedException("revocation-list", path, "holds something else than revocation lists");
            }
            RevocationList list = RevocationList.of(block.der());
            if (list.isSignedBy(authority)) {
                ours.add(list);
            } else {
                others.add(block);
            }
        }
        if (ours.isEmpty() && others.isEmpty() && !text.isBlank()) {
            throw new MalformedException(
                    "revocation-list",
                    path,
                    "is no revocation list in PEM; Tender does not replace what it cannot read");
        }
        return new ListFile(content, ours, others);
    }

    /** The lists of our authority that a gateway behind the gateway API tells for a listener. */
    static List<RevocationList> ofGatewayApi(Snapshot read, String listener, byte[] authority) {
        byte[] file = read.files().get(SharedClientSettings.gatewayApiPath(listener));
        if (file == null) {
            return List.of();
        }
        return SharedClientSettings.ofGatewayApi(read.files(), listener)
                .list()
                .map(text -> read(listener, text.getBytes(StandardCharsets.ISO_8859_1), authority)
                        .ours())
                .orElse(List.of());
    }

    /** The file with this list in place of our authority's. */
    byte[] with(byte[] list) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        out.writeBytes(PemText.write(Revoking.LIST_LABEL, list).getBytes(StandardCharsets.US_ASCII));
        others.forEach(b -> out.writeBytes(PemText.write(b.label(), b.der()).getBytes(StandardCharsets.US_ASCII)));
        return out.toByteArray();
    }
}
