package tender.core.device;

import java.io.ByteArrayInputStream;
import java.math.BigInteger;
import java.security.SecureRandom;
import java.security.cert.CRLException;
import java.security.cert.CertificateException;
import java.security.cert.CertificateFactory;
import java.security.cert.X509CRL;
import java.security.cert.X509Certificate;
import java.security.interfaces.ECPublicKey;
import java.security.interfaces.RSAPublicKey;
import java.util.ArrayList;
import java.util.Collection;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import tender.core.credential.RevealSecret;
import tender.core.network.Cidr;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.profile.OpenVpnFile;
import tender.core.profile.StaticKey;
import tender.core.profile.TlsCryptV2Key;
import tender.core.wire.MalformedException;
import tender.core.wire.Sha256;

/** An OpenVPN server's configuration as a listener: what each directive says of its attributes, read and written. */
final class OpenVpnServerConfig {
    private static final String DEFAULT_PORT = "1194";
    /** RSA strength of elliptic keys by their field size (NIST SP 800-57 part 1, table 2). */
    private static final int RSA_EQUAL_OF_256 = 3072;

    private OpenVpnServerConfig() {}

    /** @param fileAt gives the content of another file that the configuration names, by its path */
    static Listener read(String name, OpenVpnFile file, Function<String, Optional<byte[]>> fileAt) {
        Map<Attribute, String> out = new EnumMap<>(Attribute.class);
        out.put(Attribute.PROTOCOL, "openvpn");
        out.put(
                Attribute.TRANSPORT,
                word(file, "proto").filter(p -> p.startsWith("tcp")).isPresent() ? "tcp" : "udp");
        out.put(Attribute.PORT, word(file, "port").or(() -> word(file, "lport")).orElse(DEFAULT_PORT));
        out.put(Attribute.BIND, word(file, "local").orElse("any"));
        tunnels(file, out);
        pushed(file, out);
        strength(file, out);
        word(file, "max-clients").ifPresent(n -> out.put(Attribute.LIMIT_TOTAL, n));
        out.put(Attribute.LIMIT_PER_ACCOUNT, file.has("duplicate-cn") ? "0" : "1");
        word(file, "tun-mtu").ifPresent(n -> out.put(Attribute.MTU, n));
        word(file, "cert").flatMap(fileAt).or(() -> inline(file, "cert")).ifPresent(c -> certificate(c, out));
        word(file, "ca").flatMap(fileAt).or(() -> inline(file, "ca")).ifPresent(c -> authority(c, out));
        word(file, "crl-verify")
                .flatMap(fileAt)
                .or(() -> inline(file, "crl-verify"))
                .ifPresent(c -> list(c, out));
        return new Listener(name, out);
    }

    private static Optional<String> word(OpenVpnFile file, String directive) {
        return file.last(directive).flatMap(d -> d.word(0));
    }

    private static Optional<byte[]> inline(OpenVpnFile file, String block) {
        String open = "<" + block + ">\n";
        String text = file.text();
        int from = text.indexOf(open);
        int to = text.indexOf("\n</" + block + ">");
        return from < 0 || to < from
                ? Optional.empty()
                : Optional.of(
                        text.substring(from + open.length(), to).getBytes(java.nio.charset.StandardCharsets.UTF_8));
    }

    private static void tunnels(OpenVpnFile file, Map<Attribute, String> out) {
        List<String> tunnels = new ArrayList<>();
        file.last("server").filter(d -> d.words().size() >= 2).ifPresent(d -> {
            Cidr network = masked(d.words().get(0), d.words().get(1));
            tunnels.add(network.toString());
            out.put(Attribute.INSIDE_ADDRESS, network.first().plus(1).toString());
        });
        word(file, "server-ipv6")
                .ifPresent(
                        six -> tunnels.add(InterfaceAddress.parse(six).network().toString()));
        if (!tunnels.isEmpty()) {
            out.put(Attribute.TUNNEL_NETWORK, String.join(", ", tunnels));
        }
    }

    /** A network written as address and mask of ones then zeros. */
    private static Cidr masked(String address, String mask) {
        long bits = IpAddress.parse(mask).low();
        int ones = Long.bitCount(bits);
        long plain = ones == 0 ? 0 : (0xffffffffL << (32 - ones)) & 0xffffffffL;
        if (bits != plain) {
            throw new MalformedException("mask", "", "a mask is ones followed by zeros");
        }
        return Cidr.of(IpAddress.parse(address), ones);
    }

    private static void pushed(OpenVpnFile file, Map<Attribute, String> out) {
        List<String> reach = new ArrayList<>();
        List<String> dns = new ArrayList<>();
        for (OpenVpnFile.Directive push : file.all("push")) {
            String[] words = push.word(0).orElse("").strip().split("\\s+");
            if (words[0].equals("route") && words.length >= 3) {
                reach.add(masked(words[1], words[2]).toString());
            } else if (words[0].equals("route-ipv6") && words.length >= 2) {
                reach.add(Cidr.parse(words[1]).toString());
            } else if (words[0].equals("redirect-gateway")) {
                reach.add("0.0.0.0/0");
                if (List.of(words).contains("ipv6")) {
                    reach.add("::/0");
                }
            } else if (words[0].equals("dhcp-option") && words.length >= 3 && words[1].startsWith("DNS")) {
                dns.add(IpAddress.parse(words[2]).toString());
            }
        }
        if (!reach.isEmpty()) {
            out.put(Attribute.REACH, String.join(", ", reach));
        }
        if (!dns.isEmpty()) {
            out.put(Attribute.DNS, String.join(", ", dns));
        }
    }

    private static void strength(OpenVpnFile file, Map<Attribute, String> out) {
        Optional<String> list = word(file, "data-ciphers").or(() -> word(file, "ncp-ciphers"));
        // 2.6 negotiates these where the file is silent, as its manual says
        out.put(
                Attribute.CIPHERS,
                list.or(() -> word(file, "cipher"))
                        .map(c -> c.replace(":", ", "))
                        .orElse("AES-256-GCM, AES-128-GCM, CHACHA20-POLY1305"));
        out.put(Attribute.DIGEST, word(file, "auth").orElse("SHA1"));
        word(file, "tls-version-min").ifPresent(v -> out.put(Attribute.TLS_MINIMUM, v));
        out.put(
                Attribute.CONTROL_CHANNEL_KEY,
                file.has("tls-crypt-v2")
                        ? "crypt-v2"
                        : file.has("tls-crypt") ? "crypt" : file.has("tls-auth") ? "auth" : "none");
        boolean lzo = file.last("comp-lzo")
                .filter(d -> !d.word(0).filter("no"::equals).isPresent())
                .isPresent();
        boolean other = file.last("compress")
                .filter(d -> d.word(0)
                        .filter(w -> !w.startsWith("stub") && !w.equals("migrate"))
                        .isPresent())
                .isPresent();
        out.put(Attribute.COMPRESSION, lzo || other ? "yes" : "no");
        boolean without = file.has("client-cert-not-required")
                || word(file, "verify-client-cert")
                        .filter(w -> !w.equals("require"))
                        .isPresent();
        out.put(Attribute.CLIENT_CERTIFICATE, without ? "no" : "yes");
        String plugin = word(file, "plugin").orElse("").toLowerCase(Locale.ROOT);
        boolean passwords = file.has("auth-user-pass-verify") || plugin.contains("auth");
        out.put(
                Attribute.ACCOUNTS,
                !passwords
                        ? "none"
                        : plugin.contains("radius") ? "radius" : plugin.contains("ldap") ? "directory" : "local");
        if (passwords) {
            boolean codes = file.directives().stream()
                    .anyMatch(d -> d.words().stream()
                            .anyMatch(w -> w.toLowerCase(Locale.ROOT).contains("otp")));
            out.put(Attribute.SECOND_FACTOR, codes ? "yes" : "no");
        }
    }

    private static void certificate(byte[] pem, Map<Attribute, String> out) {
        try {
            X509Certificate c = (X509Certificate)
                    CertificateFactory.getInstance("X.509").generateCertificate(new ByteArrayInputStream(pem));
            out.put(Attribute.CERTIFICATE_EXPIRES, c.getNotAfter().toInstant().toString());
            if (c.getPublicKey() instanceof RSAPublicKey rsa) {
                out.put(Attribute.KEY_BITS, Integer.toString(rsa.getModulus().bitLength()));
            } else if (c.getPublicKey() instanceof ECPublicKey ec) {
                BigInteger order = ec.getParams().getOrder();
                out.put(
                        Attribute.KEY_BITS,
                        Integer.toString(order.bitLength() >= 256 ? RSA_EQUAL_OF_256 : order.bitLength() * 8));
            }
            names(c).ifPresent(n -> out.put(Attribute.SERVER_NAMES, n));
        } catch (CertificateException e) {
            throw new MalformedException("certificate", "cert", "the server's certificate cannot be read");
        }
    }

    private static Optional<String> names(X509Certificate c) throws CertificateException {
        Collection<List<?>> all = c.getSubjectAlternativeNames();
        List<String> names = all == null
                ? List.of()
                : all.stream()
                        .filter(n -> n.get(0).equals(2)) // a DNS name, RFC 5280 §4.2.1.6
                        .map(n -> n.get(1).toString())
                        .filter(n -> n.matches("[A-Za-z0-9][A-Za-z0-9.-]{0,63}"))
                        .toList();
        return names.isEmpty() ? Optional.empty() : Optional.of(String.join(", ", names));
    }

    private static void authority(byte[] pem, Map<Attribute, String> out) {
        try {
            X509Certificate c = (X509Certificate)
                    CertificateFactory.getInstance("X.509").generateCertificate(new ByteArrayInputStream(pem));
            out.put(Attribute.AUTHORITY, Sha256.hex(c.getEncoded()).substring(0, 32));
        } catch (CertificateException e) {
            throw new MalformedException("certificate", "ca", "the authority's certificate cannot be read");
        }
    }

    private static void list(byte[] pem, Map<Attribute, String> out) {
        try {
            X509CRL crl = (X509CRL) CertificateFactory.getInstance("X.509").generateCRL(new ByteArrayInputStream(pem));
            if (crl.getNextUpdate() != null) {
                out.put(
                        Attribute.REVOCATION_LIST_EXPIRES,
                        crl.getNextUpdate().toInstant().toString());
            }
        } catch (CertificateException | CRLException e) {
            throw new MalformedException(
                    "certificate", "crl-verify", "the list of revoked certificates cannot be read");
        }
    }

    /** The file with one attribute set; refuses what the file cannot say. */
    static OpenVpnFile with(OpenVpnFile file, Attribute attribute, String value, SecureRandom random) {
        return switch (attribute) {
            case PORT -> file.without(d -> d.name().equals("lport")).with("port", value);
            case TRANSPORT -> file.with("proto", value.equals("tcp") ? "tcp-server" : "udp");
            case BIND -> value.equals("any") ? file.without(d -> d.name().equals("local")) : file.with("local", value);
            case TUNNEL_NETWORK -> tunnels(file, value);
            case REACH -> reach(file, value);
            case DNS -> dns(file, value);
            case CIPHERS ->
                file.without(d -> d.name().equals("ncp-ciphers") || d.name().equals("cipher"))
                        .with("data-ciphers", value.replace(", ", ":"));
            case DIGEST -> file.with("auth", value);
            case TLS_MINIMUM -> file.with("tls-version-min", value);
            case COMPRESSION -> {
                if (value.equals("yes")) {
                    throw new MalformedException("attribute", "compression", "is only ever switched off");
                }
                yield file.without(d -> d.name().equals("comp-lzo")
                        || d.name().equals("compress")
                        || d.name().equals("push")
                                && d.word(0).filter(w -> w.startsWith("comp")).isPresent());
            }
            case CONTROL_CHANNEL_KEY -> controlChannelKey(file, value, random);
            case ACCOUNTS -> {
                if (!value.equals("none")) {
                    throw new MalformedException(
                            "attribute", "accounts", "asking for passwords is set up at the server");
                }
                yield file.without(d -> d.name().equals("auth-user-pass-verify")
                        || d.name().equals("plugin")
                                && d.word(0).filter(w -> w.contains("auth")).isPresent());
            }
            case CLIENT_CERTIFICATE -> {
                OpenVpnFile plain = file.without(d ->
                        d.name().equals("client-cert-not-required") || d.name().equals("verify-client-cert"));
                yield value.equals("yes") ? plain : plain.with("verify-client-cert", "none");
            }
            case LIMIT_TOTAL ->
                value.equals("0") ? file.without(d -> d.name().equals("max-clients")) : file.with("max-clients", value);
            case LIMIT_PER_ACCOUNT ->
                value.equals("1")
                        ? file.without(d -> d.name().equals("duplicate-cn"))
                        : file.has("duplicate-cn") ? file : file.with("duplicate-cn");
            case MTU -> file.with("tun-mtu", value);
            default ->
                throw new MalformedException(
                        "attribute", attribute.word(), "cannot be set in this server's file through Tender");
        };
    }

    /** A fresh key written inline, so that it is where every file needs it. */
    private static OpenVpnFile controlChannelKey(OpenVpnFile file, String value, SecureRandom random) {
        OpenVpnFile bare =
                file.without(d -> d.name().startsWith("tls-crypt") || d.name().equals("tls-auth"));
        return switch (value) {
            case "none" -> bare;
            case "crypt" -> bare.withBlock("tls-crypt", StaticKey.generate(random));
            case "crypt-v2" ->
                bare.withBlock("tls-crypt-v2", TlsCryptV2Key.forServer(random).revealText(RevealSecret.TO_WRITE_FILE));
            default ->
                throw new MalformedException(
                        "attribute", "control-channel key", "crypt, crypt-v2 or none can be set through Tender");
        };
    }

    private static OpenVpnFile tunnels(OpenVpnFile file, String value) {
        OpenVpnFile out = file;
        for (String text : value.split("\\s*,\\s*")) {
            Cidr network = Cidr.parse(text);
            out = network.first().isV4()
                    ? out.with(
                            "server",
                            network.first().toString(),
                            network.mask().orElseThrow().toString())
                    : out.with("server-ipv6", network.toString());
        }
        return out;
    }

    private static OpenVpnFile reach(OpenVpnFile file, String value) {
        OpenVpnFile out = file.without(d -> d.name().equals("push")
                && d.word(0)
                        .filter(w -> w.startsWith("route ")
                                || w.startsWith("route-ipv6 ")
                                || w.startsWith("redirect-gateway"))
                        .isPresent());
        StringBuilder text = new StringBuilder(out.text());
        boolean four = false;
        boolean six = false;
        for (String one : value.split("\\s*,\\s*")) {
            Cidr network = Cidr.parse(one);
            four |= network.equals(Cidr.EVERYTHING_V4);
            six |= network.equals(Cidr.EVERYTHING_V6);
            if (!network.isEverything()) {
                line(
                        text,
                        network.first().isV4()
                                ? "push \"route " + network.first() + " "
                                        + network.mask().orElseThrow() + "\""
                                : "push \"route-ipv6 " + network + "\"");
            }
        }
        if (four || six) {
            line(text, "push \"redirect-gateway def1" + (six ? " ipv6" : "") + (four ? "" : " !ipv4") + "\"");
        }
        return OpenVpnFile.read(text.toString()).file();
    }

    private static OpenVpnFile dns(OpenVpnFile file, String value) {
        OpenVpnFile out = file.without(d -> d.name().equals("push")
                && d.word(0).filter(w -> w.startsWith("dhcp-option DNS")).isPresent());
        StringBuilder text = new StringBuilder(out.text());
        for (String one : value.split("\\s*,\\s*")) {
            line(text, "push \"dhcp-option DNS " + IpAddress.parse(one) + "\"");
        }
        return OpenVpnFile.read(text.toString()).file();
    }

    private static void line(StringBuilder text, String line) {
        if (text.length() > 0 && text.charAt(text.length() - 1) != '\n') {
            text.append('\n');
        }
        text.append(line).append('\n');
    }
}
