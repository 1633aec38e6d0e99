package tender.core.trial;

import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.bouncycastle.cert.X509CertificateHolder;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.SignatureCheck;
import tender.core.ike.Identification;
import tender.core.wire.MalformedException;

/**
 * What is to be said of a certificate that a server shows (RFC 5280 §6, without policies): faults that the profile's own
 * checks find, and those that they would let pass.
 */
public record ServerTrust(List<Fault> faults) {
    private static final int MAX_PATH = 8;

    /** Something wrong with it; {@code seenByProfile} is false where the profile does not look. */
    public record Fault(Kind kind, boolean seenByProfile, String detail) {}

    /** Kinds of faults, worst first. */
    public enum Kind {
        UNREADABLE,
        FOREIGN,
        SELF_SIGNED,
        ENDED,
        NOT_YET,
        OTHER_NAME,
        NO_SERVER
    }

    /** What a name that a profile asks for is held against: the whole subject, the common name, or its beginning. */
    public enum NameForm {
        SUBJECT,
        NAME,
        PREFIX;

        private boolean fits(String wanted, CertificateFacts own) {
            return switch (this) {
                case SUBJECT -> plain(own.subject()).equals(plain(wanted));
                case NAME -> own.commonName().equals(wanted);
                case PREFIX -> own.commonName().startsWith(wanted);
            };
        }

        /** A subject written by one program as the other writes it. */
        private static String plain(String subject) {
            return subject.replaceAll(",\\s*", ",").replace("emailAddress=", "E=");
        }
    }

    /**
     * What a profile asks of the server's certificate beside being signed.
     *
     * @param fingerprints SHA-256 of certificates that are believed by themselves; one of them has to be shown, where any is named
     */
    public record Checks(boolean role, Optional<String> name, NameForm form, List<String> fingerprints) {
        public Checks {
            fingerprints = List.copyOf(fingerprints);
        }

        private boolean believes(byte[] shown, List<byte[]> chain, List<byte[]> authorities) {
            boolean named = fingerprints.isEmpty()
                    || fingerprints.contains(
                            CertificateFacts.of(shown).fingerprint().toLowerCase(Locale.ROOT));
            boolean signed = !fingerprints.isEmpty() && authorities.isEmpty() || isSignedBy(chain, authorities);
            return named && signed;
        }
    }

    public ServerTrust {
        faults = faults.stream()
                .sorted(java.util.Comparator.comparing(Fault::kind))
                .toList();
    }

    /**
     * @param chain the server's certificates, its own first
     * @param shouldBe the name that it should have, where the office's records tell one
     */
    public static ServerTrust of(
            List<byte[]> chain, List<byte[]> authorities, Checks checks, Optional<String> shouldBe, Instant now) {
        List<Fault> out = new ArrayList<>();
        try {
            CertificateFacts own = CertificateFacts.of(chain.get(0));
            if (!checks.believes(chain.get(0), chain, authorities)) {
                out.add(new Fault(Kind.FOREIGN, true, "signed by " + own.issuer()));
            }
            for (byte[] der : chain) {
                CertificateFacts c = CertificateFacts.of(der);
                if (now.isAfter(c.ends())) {
                    out.add(new Fault(Kind.ENDED, true, c.anyName().orElse(c.serial()) + " ended " + c.ends()));
                } else if (now.isBefore(c.starts())) {
                    out.add(new Fault(
                            Kind.NOT_YET, true, c.anyName().orElse(c.serial()) + " counts from " + c.starts()));
                }
            }
            boolean server =
                    own.role() == CertificateFacts.Role.SERVER || own.role() == CertificateFacts.Role.SERVER_AND_CLIENT;
            if (!server) {
                out.add(new Fault(
                        Kind.NO_SERVER,
                        checks.role(),
                        "its use is: " + own.role().words()));
            } else if (!CertificateFacts.statesKeyUsage(chain.get(0))) {
                out.add(new Fault(Kind.NO_SERVER, checks.role(), "it does not state what its key may be used for"));
            }
            names(own, checks, shouldBe, out);
        } catch (MalformedException e) {
            out.add(new Fault(Kind.UNREADABLE, true, e.getMessage()));
        }
        return new ServerTrust(out);
    }

    /**
     * As a client of IKEv2 looks at it: no kind of use is asked for, and whoever the server has to be stands as a name in the
     * certificate or as its subject (RFC 7296 §4).
     *
     * @param wanted empty where the profile takes anyone
     */
    public static ServerTrust ofIdentity(
            List<byte[]> chain, List<byte[]> authorities, Optional<String> wanted, Instant now) {
        List<Fault> out = new ArrayList<>();
        for (Fault f : of(
                        chain,
                        authorities,
                        new Checks(false, Optional.empty(), NameForm.NAME, List.of()),
                        Optional.empty(),
                        now)
                .faults) {
            out.add(
                    f.kind() == Kind.FOREIGN && authorities.isEmpty()
                            ? new Fault(
                                    f.kind(),
                                    false,
                                    f.detail() + ", which the device's own store of authorities must know")
                            : f);
        }
        try {
            CertificateFacts own = CertificateFacts.of(chain.get(0));
            boolean fits =
                    wanted.isEmpty() || Identification.parse(wanted.get()).isOf(chain.get(0));
            if (!fits) {
                out.add(new Fault(
                        Kind.OTHER_NAME,
                        true,
                        "it says " + own.anyName().orElse("nothing") + ", the profile wants " + wanted.get()));
            }
        } catch (MalformedException e) {
            return new ServerTrust(out); // told already
        }
        return new ServerTrust(out);
    }

    /**
     * The same with who the server says it is beside its certificate, which counts also where it shows none.
     *
     * @param says empty where it did not say
     */
    static ServerTrust ofIdentity(
            List<byte[]> chain,
            List<byte[]> authorities,
            Optional<String> wanted,
            Optional<Identification> says,
            Instant now) {
        List<Fault> out =
                new ArrayList<>(chain.isEmpty() ? List.of() : ofIdentity(chain, authorities, wanted, now).faults);
        boolean other = wanted.isPresent() && says.isPresent() && !says.get().means(Identification.parse(wanted.get()));
        if (other && out.stream().noneMatch(f -> f.kind() == Kind.OTHER_NAME)) {
            out.add(new Fault(
                    Kind.OTHER_NAME,
                    true,
                    "it says that it is " + says.get().words() + ", the profile wants " + wanted.get()));
        }
        return new ServerTrust(out);
    }

    /** The same for a listener on TLS, whose certificate may stand for every name of one domain (RFC 9525 6.3). */
    static ServerTrust ofTls(List<byte[]> chain, List<byte[]> authorities, Optional<String> wanted, Instant now) {
        Optional<String> any = wanted.map(w -> w.replaceFirst("^[^.]+", "*"));
        try {
            CertificateFacts own = CertificateFacts.of(chain.get(0));
            boolean wild = any.isPresent() && own.names().contains(any.get());
            ServerTrust found = ofIdentity(chain, authorities, wild ? any : wanted, now);
            boolean bySelf = isSignedBy(chain.subList(0, 1), chain.subList(0, 1));
            return new ServerTrust(found.faults.stream()
                    .map(f -> f.kind() == Kind.FOREIGN ? unbelieved(own, bySelf) : f)
                    .toList());
        } catch (MalformedException e) {
            return ofIdentity(chain, authorities, wanted, now);
        }
    }

    private static Fault unbelieved(CertificateFacts own, boolean bySelf) {
        return bySelf
                ? new Fault(Kind.SELF_SIGNED, true, "self-signed")
                : new Fault(Kind.FOREIGN, true, "signed by " + own.issuer());
    }

    private static void names(CertificateFacts own, Checks checks, Optional<String> shouldBe, List<Fault> out) {
        String common = own.commonName();
        if (checks.name().isPresent()) {
            String wanted = checks.name().get();
            if (!checks.form().fits(wanted, own)) {
                String says = checks.form() == NameForm.SUBJECT ? own.subject() : common;
                out.add(new Fault(Kind.OTHER_NAME, true, "it says " + says + ", the profile wants " + wanted));
            }
        } else if (shouldBe.isPresent()) {
            String wanted = shouldBe.get().toLowerCase(Locale.ROOT);
            boolean fits = common.toLowerCase(Locale.ROOT).equals(wanted)
                    || own.names().stream()
                            .anyMatch(n -> n.toLowerCase(Locale.ROOT).equals(wanted));
            if (!fits) {
                out.add(new Fault(Kind.OTHER_NAME, false, "it says " + common + ", the listener's is " + wanted));
            }
        }
    }

    /** Whether the first leads to one of these authorities, signature by signature. */
    static boolean isSignedBy(List<byte[]> chain, List<byte[]> authorities) {
        try {
            X509CertificateHolder at = new X509CertificateHolder(chain.get(0));
            for (int step = 0; step < MAX_PATH; step++) {
                for (byte[] der : authorities) {
                    if (SignatureCheck.isSigned(at, new X509CertificateHolder(der))) {
                        return true;
                    }
                }
                X509CertificateHolder next = null;
                for (byte[] der : chain) {
                    X509CertificateHolder candidate = new X509CertificateHolder(der);
                    if (!candidate.equals(at) && SignatureCheck.isSigned(at, candidate)) {
                        next = candidate;
                    }
                }
                if (next == null) {
                    return false;
                }
                at = next;
            }
            return false;
        } catch (IOException e) {
            throw new MalformedException("certificate", "", "it cannot be read");
        }
    }

    /**
     * Whether it is rather the clock that is wrong: what the server shows, the authorities of the file and the file's own
     * certificate have all ended, or do not count yet.
     */
    static boolean clockIsOdd(
            List<byte[]> chain, List<byte[]> authorities, Optional<CertificateFacts> own, Instant now) {
        if (chain.isEmpty() || authorities.isEmpty()) {
            return false;
        }
        try {
            List<CertificateFacts> all = new ArrayList<>(own.stream().toList());
            all.add(CertificateFacts.of(chain.get(0)));
            authorities.forEach(a -> all.add(CertificateFacts.of(a)));
            return all.stream().allMatch(c -> c.ends().isBefore(now))
                    || all.stream().allMatch(c -> c.starts().isAfter(now));
        } catch (MalformedException e) {
            return false;
        }
    }

    /** Whom the first of a chain names; also where it cannot be read. */
    static String who(List<byte[]> chain) {
        try {
            return CertificateFacts.of(chain.get(0)).anyName().orElse("no name");
        } catch (MalformedException e) {
            return "a certificate that cannot be read";
        }
    }

    /** Faults that make a client with this profile turn away. */
    public List<Fault> fatal() {
        return faults.stream().filter(Fault::seenByProfile).toList();
    }
}
