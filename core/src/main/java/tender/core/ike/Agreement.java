package tender.core.ike;

import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.security.SecureRandom;
import java.util.Arrays;
import org.bouncycastle.asn1.x9.X9ECParameters;
import org.bouncycastle.crypto.agreement.DHStandardGroups;
import org.bouncycastle.crypto.agreement.X25519Agreement;
import org.bouncycastle.crypto.ec.CustomNamedCurves;
import org.bouncycastle.crypto.params.DHParameters;
import org.bouncycastle.crypto.params.X25519PrivateKeyParameters;
import org.bouncycastle.crypto.params.X25519PublicKeyParameters;
import org.bouncycastle.math.ec.ECPoint;
import org.bouncycastle.math.ec.FixedPointCombMultiplier;
import tender.core.wire.MalformedException;

/** One side's half of a Diffie-Hellman agreement: MODP (RFC 3526), elliptic curves (RFC 5903), Curve25519 (RFC 8031). */
final class Agreement {
    private static final int EXPONENT_BITS = 320;

    private final int group;
    private final byte[] publicValue;
    private final java.util.function.UnaryOperator<byte[]> agree;

    private Agreement(int group, byte[] publicValue, java.util.function.UnaryOperator<byte[]> agree) {
        this.group = group;
        this.publicValue = publicValue;
        this.agree = agree;
    }

    static Agreement begin(int group, SecureRandom random) {
        return switch (group) {
            case 19 -> curve(group, "P-256", random);
            case 20 -> curve(group, "P-384", random);
            case 21 -> curve(group, "P-521", random);
            case 31 -> x25519(random);
            default -> modp(group, random);
        };
    }

    private static DHParameters modp(int group) {
        return switch (group) {
            case 2 -> DHStandardGroups.rfc2409_1024;
            case 5 -> DHStandardGroups.rfc3526_1536;
            case 14 -> DHStandardGroups.rfc3526_2048;
            case 15 -> DHStandardGroups.rfc3526_3072;
            case 16 -> DHStandardGroups.rfc3526_4096;
            case 17 -> DHStandardGroups.rfc3526_6144;
            case 18 -> DHStandardGroups.rfc3526_8192;
            default -> throw new MalformedException("group", "", Transform.groupName(group) + " is not tried");
        };
    }

    private static Agreement modp(int group, SecureRandom random) {
        DHParameters dh = modp(group);
        BigInteger secret = new BigInteger(EXPONENT_BITS, random).setBit(EXPONENT_BITS - 1);
        int bytes = (dh.getP().bitLength() + 7) / 8;
        return new Agreement(group, fixed(dh.getG().modPow(secret, dh.getP()), bytes), other -> {
            BigInteger y = new BigInteger(1, other);
            boolean outside =
                    y.compareTo(BigInteger.TWO) < 0 || y.compareTo(dh.getP().subtract(BigInteger.TWO)) > 0;
            if (other.length != bytes || outside) {
                throw new MalformedException("key exchange", "", "the other side's value is out of its range");
            }
            return fixed(y.modPow(secret, dh.getP()), bytes);
        });
    }

    private static Agreement curve(int group, String name, SecureRandom random) {
        X9ECParameters curve = CustomNamedCurves.getByName(name);
        int bytes = (curve.getCurve().getFieldSize() + 7) / 8;
        BigInteger secret = new BigInteger(curve.getN().bitLength() + 64, random)
                .mod(curve.getN().subtract(BigInteger.ONE))
                .add(BigInteger.ONE);
        byte[] own = new FixedPointCombMultiplier()
                .multiply(curve.getG(), secret)
                .normalize()
                .getEncoded(false);
        return new Agreement(group, Arrays.copyOfRange(own, 1, own.length), other -> {
            if (other.length != 2 * bytes) {
                throw new MalformedException("key exchange", "", "the other side's point has another length");
            }
            try {
                ECPoint point = curve.getCurve().decodePoint(Bytes.join(new byte[] {4}, other));
                return fixed(
                        point.multiply(secret).normalize().getAffineXCoord().toBigInteger(), bytes);
            } catch (IllegalArgumentException e) {
                throw new MalformedException("key exchange", "", "the other side's point is not on the curve");
            }
        });
    }

    private static Agreement x25519(SecureRandom random) {
        X25519PrivateKeyParameters own = new X25519PrivateKeyParameters(random);
        return new Agreement(31, own.generatePublicKey().getEncoded(), other -> {
            if (other.length != 32) {
                throw new MalformedException("key exchange", "", "the other side's point has another length");
            }
            X25519Agreement agreement = new X25519Agreement();
            agreement.init(own);
            byte[] out = new byte[32];
            try {
                agreement.calculateAgreement(new X25519PublicKeyParameters(other), out, 0);
            } catch (IllegalStateException e) {
                throw new MalformedException("key exchange", "", "the other side's point is of small order");
            }
            return out;
        });
    }

    private static byte[] fixed(BigInteger value, int bytes) {
        byte[] raw = value.toByteArray();
        byte[] out = new byte[bytes];
        int from = Math.max(0, raw.length - bytes);
        System.arraycopy(raw, from, out, bytes - (raw.length - from), raw.length - from);
        return out;
    }

    int group() {
        return group;
    }

    /** This side's half, as it is sent (RFC 7296 §3.4). */
    Payload payload() {
        byte[] head = ByteBuffer.allocate(4)
                .putShort((short) group)
                .putShort((short) 0)
                .array();
        return new Payload(Payload.KEY_EXCHANGE, Bytes.join(head, publicValue));
    }

    byte[] agree(byte[] other) {
        return agree.apply(other);
    }
}
