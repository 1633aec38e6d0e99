package tender.core.ike;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.bouncycastle.cert.X509CertificateHolder;
import tender.core.wire.ByteCursor;
import tender.core.wire.MalformedException;

/** One payload of a message (RFC 7296 §3.2), its body without the generic header. */
record Payload(int type, byte[] body) {
    static final int SA = 33;
    static final int KEY_EXCHANGE = 34;
    static final int ID_INITIATOR = 35;
    static final int ID_RESPONDER = 36;
    static final int CERTIFICATE = 37;
    static final int CERTIFICATE_REQUEST = 38;
    static final int AUTHENTICATION = 39;
    static final int NONCE = 40;
    static final int NOTIFY = 41;
    static final int DELETE = 42;
    static final int SELECTORS_INITIATOR = 44;
    static final int SELECTORS_RESPONDER = 45;
    static final int SEALED = 46;
    static final int CONFIGURATION = 47;
    static final int EAP = 48;
    static final int SEALED_FRAGMENT = 53;
    private static final int MAX = 100;
    private static final byte X509 = 4;

    /** A certificate, in DER. */
    static Payload certificate(byte[] der) {
        return new Payload(CERTIFICATE, Bytes.join(new byte[] {X509}, der));
    }

    /** The certificates among payloads, in DER, in their order. */
    static List<byte[]> certificates(List<Payload> payloads) {
        return payloads.stream()
                .filter(p -> p.type == CERTIFICATE && p.body.length > 1 && p.body[0] == X509)
                .map(p -> Arrays.copyOfRange(p.body, 1, p.body.length))
                .toList();
    }

    /** Asks for a certificate of one of these authorities (RFC 7296 §3.7). */
    static Payload certificateRequest(List<byte[]> authorities) {
        byte[][] digests = authorities.stream().map(Payload::keyDigest).toArray(byte[][]::new);
        return new Payload(CERTIFICATE_REQUEST, Bytes.join(new byte[] {X509}, Bytes.join(digests)));
    }

    private static byte[] keyDigest(byte[] der) {
        try {
            return Prf.hashed(
                    "SHA1",
                    new X509CertificateHolder(der).getSubjectPublicKeyInfo().getEncoded());
        } catch (IOException e) {
            throw new MalformedException("certificate", "", "the authority's certificate cannot be read");
        }
    }

    /** The payloads one after another, the first header's type being told by whoever stands before. */
    static byte[] encode(List<Payload> payloads) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        for (int i = 0; i < payloads.size(); i++) {
            byte[] body = payloads.get(i).body;
            out.writeBytes(ByteBuffer.allocate(4)
                    .put((byte) (i + 1 < payloads.size() ? payloads.get(i + 1).type : 0))
                    .put((byte) 0)
                    .putShort((short) (4 + body.length))
                    .array());
            out.writeBytes(body);
        }
        return out.toByteArray();
    }

    /** A sealed payload ends the chain: what follows its header is not read here. */
    static List<Payload> decode(int first, byte[] bytes) {
        ByteCursor in = new ByteCursor(bytes);
        List<Payload> out = new ArrayList<>();
        int type = first;
        while (type != 0) {
            if (out.size() == MAX) {
                throw new MalformedException("message", "", "too many payloads");
            }
            int next = in.u8();
            boolean critical = (in.u8() & 0x80) != 0;
            int length = in.u16();
            if (critical && (type < SA || type > SEALED_FRAGMENT)) {
                throw new MalformedException("message", "", "a payload that must be understood is not");
            }
            out.add(new Payload(type, in.bytes(length - 4)));
            if (type == SEALED || type == SEALED_FRAGMENT) {
                break;
            }
            type = next;
        }
        return out;
    }
}
