package tender.core.inspect;

import static tender.core.finding.Severity.BREAKS;
import static tender.core.finding.Severity.NOTE;
import static tender.core.finding.Severity.RISKS;

import java.util.EnumSet;
import java.util.Locale;
import java.util.Set;
import tender.core.finding.Severity;

/** Everything that can be said against a file, decided here once: how bad it is, what it means and what to do. */
public enum Hint {
    // where it leads
    ENDPOINT_MISSING(BREAKS, "It names no place to call.", "Add the gateway's name or address."),
    ENDPOINT_PLACEHOLDER(
            BREAKS,
            "A template's text stands where the gateway's name should.",
            "Put the name that leads to the gateway."),
    ENDPOINT_WRONG(
            BREAKS, "It calls what is neither a name nor an address.", "Put the gateway's name, or its address."),
    NAME_UNUSUAL(
            NOTE,
            "The name has letters or signs that not every program looks up.",
            "Call a name of letters, digits and hyphens; an international name in its xn-- form."),
    ENDPOINT_PRIVATE(
            BREAKS,
            "It calls an address that exists inside an office only.",
            "Put the name or address seen from outside."),
    ENDPOINT_LITERAL(
            NOTE, "It calls an address rather than a name.", "Call a name, so that a new address needs no new file."),
    TUNNEL_ADDRESS_MISSING(BREAKS, "It has no address inside the tunnel.", "Add the address that the gateway admits."),
    REACH_MISSING(BREAKS, "Nothing is sent through the tunnel.", "Name the networks to reach."),
    NETWORK_TWICE(RISKS, "Two peers claim the same network; the later one has it.", "Let one of them have it."),
    REACH_LEAKS_V6(RISKS, "All IPv4 traffic goes through the tunnel, IPv6 does not.", "Send IPv6 through it too."),
    ALL_THROUGH_PROXY(
            RISKS,
            "Everything is sent through a proxy that the file names.",
            "Make sure whose it is, or take the line out."),
    // certificates and keys
    CERTIFICATE_ENDED(BREAKS, "A certificate has ended.", "Renew it."),
    CERTIFICATE_ENDS_SOON(RISKS, "A certificate ends within a month.", "Renew it."),
    CERTIFICATE_NOT_YET(BREAKS, "A certificate does not count yet.", "Check the clock it was made by."),
    CERTIFICATE_REVOKED(
            BREAKS, "A list that came along has this certificate revoked.", "Issue a new one, if it should get in."),
    CERTIFICATE_MISSING(
            BREAKS,
            "It has a key and no certificate, or neither where one is needed.",
            "Add the certificate with its key."),
    KEY_MISSING(BREAKS, "It has no private key of its own.", "Add the key, or make the pair anew."),
    KEY_OTHER(BREAKS, "The key is not the certificate's.", "Find the pair that belongs together."),
    KEY_OWN_AS_PEER(BREAKS, "It names its own key as the gateway's.", "Put the gateway's public key there."),
    AUTHORITY_MISSING(BREAKS, "No authority is named to check the server by.", "Add the authority's certificate."),
    AUTHORITY_OTHER(
            RISKS,
            "The certificate was not signed by the authority in the file.",
            "Check which authority the server believes."),
    ROLE_WRONG(
            BREAKS,
            "A certificate of the wrong role stands here.",
            "A client needs one made for clients, a server one for servers."),
    AUTHORITY_KEY_INSIDE(
            BREAKS,
            "The authority's own private key is in the file: whoever holds it can make certificates for anyone.",
            "Take it out, and treat the authority as lost if the file left the house."),
    KEY_SHORT(RISKS, "A key is too short for today.", "Make a new one: EC P-256, or RSA 2048 and more."),
    SIGNATURE_WEAK(RISKS, "A certificate is signed with a broken digest.", "Have it signed anew with SHA-256."),
    KEY_OPEN(NOTE, "A private key lies open in the file.", "Whoever has the file has the key; hand it over sealed."),
    KEY_LOCKED(NOTE, "A key asks for a passphrase.", "The passphrase travels by another way than the file."),
    KEY_STORE_LEGACY(RISKS, "The key store is locked in an old way that can be broken.", "Write it anew with AES-256."),
    LOCK_REFUSED(BREAKS, "It is locked in a way that current programs refuse.", "Lock it anew with AES-256."),
    PASSPHRASE_NEEDED(NOTE, "What is inside is told with the passphrase only.", "Give the passphrase to look inside."),
    PART_ELSEWHERE(
            BREAKS, "It needs another file that is not here.", "Put the files together, or write them into one."),
    LIST_ENDED(
            BREAKS, "The list of revoked certificates has run out; servers refuse everyone.", "Have it signed anew."),
    LIST_ENDS_SOON(RISKS, "The list of revoked certificates runs out within a week.", "Have it signed anew."),
    LIST_NAMES_NO_KEY(
            RISKS,
            "The list does not name its authority's key; some servers ignore it without a word.",
            "Have it signed by an authority that does."),
    REQUEST_UNSIGNED(BREAKS, "The request is not signed by the key it is for.", "Make the request anew."),
    // strength
    SERVER_UNCHECKED(
            RISKS,
            "It takes any certificate of the authority for the server's, a colleague's too.",
            "Let it check the server's name or role."),
    CERTIFICATE_NOT_ASKED(RISKS, "Callers need no certificate of their own.", "Ask every device for one."),
    CIPHER_WEAK(RISKS, "It accepts a cipher that can be broken.", "Name AES-256-GCM or CHACHA20-POLY1305."),
    CIPHER_NONE(BREAKS, "It sends everything unlocked.", "Name a cipher."),
    DIGEST_WEAK(RISKS, "Packets are protected by a broken digest.", "Name SHA256."),
    TLS_OLD(RISKS, "It accepts handshakes older than TLS 1.2.", "Set 1.2."),
    COMPRESSION_ON(
            RISKS, "Compression is on, from whose sizes secrets can be guessed.", "Switch it off on both sides."),
    WRAPPING_MISSING(
            NOTE, "The handshake is open to anyone who knocks.", "Wrap it with tls-crypt where the server does."),
    STATIC_KEY_MODE(RISKS, "One fixed key locks everything ever sent.", "Use certificates."),
    PROTOCOL_BROKEN(BREAKS, "This kind of tunnel can be opened by others.", "Use another kind."),
    PROTOCOL_WEAK(RISKS, "This kind of tunnel rests on one shared secret.", "Use certificates, or another kind."),
    PRESHARED_MISSING(
            NOTE, "It has no preshared key.", "One more key costs nothing and helps against future machines."),
    // dangerous lines
    RUNS_PROGRAM(
            BREAKS,
            "It runs a program on the device.",
            "Read what it runs; take the line out if you do not know why it is there."),
    LOADS_CODE(BREAKS, "It loads code into the program.", "Take the line out if you do not know why it is there."),
    SETS_VARIABLE(
            BREAKS,
            "It sets a variable by which programs find the code that they run.",
            "Take the line out if you do not know why it is there."),
    SCRIPTS_ALLOWED(
            RISKS, "It lets the program run others.", "Take the line out, unless a script that you know needs it."),
    WRITES_FILE(RISKS, "It writes a file on the device.", "Take the line out unless it is needed."),
    CHECK_OFF(RISKS, "It switches off a check.", "Take the line out."),
    OPENS_CONTROL(RISKS, "It lets another program control the tunnel.", "Take the line out unless it is needed."),
    READS_OTHER(RISKS, "It reads settings from another file.", "Look at that file too."),
    PASSWORD_INSIDE(RISKS, "A password stands in the file in the open.", "Let the program ask for it."),
    // form
    UNREAD(
            BREAKS,
            "Part of it cannot be read, so that nobody knows what it does.",
            "Correct that line, or take it out; then look again."),
    TOO_COSTLY(
            BREAKS,
            "Looking inside costs more than is spent on one request.",
            "Look at that file alone; lock keys with fewer rounds."),
    ARCHIVE_ESCAPES(
            BREAKS,
            "An entry of the archive leads outside of it, or is a link or a device.",
            "Do not unpack it; ask for it anew."),
    ARCHIVE_SWELLS(
            BREAKS, "It unpacks to more than is read.", "Do not unpack it, unless you know why it is that large."),
    ARCHIVE_LOCKED(BREAKS, "The archive is encrypted.", "Unpack it, and look at what was in it."),
    ARCHIVE_DAMAGED(BREAKS, "The archive is damaged.", "Ask for it anew."),
    REFUSED(BREAKS, "The program that it is for does not take it.", "Correct that line, or take it out."),
    DEPRECATED(NOTE, "Current releases do not know this line, or call it otherwise.", "Replace it by its successor."),
    NOT_KNOWN(NOTE, "It is none of the kinds that are known here.", "Look at it by hand.");

    private static final Set<Hint> DANGEROUS = EnumSet.of(
            RUNS_PROGRAM,
            LOADS_CODE,
            SETS_VARIABLE,
            SCRIPTS_ALLOWED,
            WRITES_FILE,
            OPENS_CONTROL,
            READS_OTHER,
            AUTHORITY_KEY_INSIDE,
            ARCHIVE_ESCAPES,
            ARCHIVE_SWELLS);
    private static final Set<Hint> COMPLETED = EnumSet.of(
            ENDPOINT_PLACEHOLDER, PART_ELSEWHERE, CERTIFICATE_NOT_YET, PASSPHRASE_NEEDED, ARCHIVE_LOCKED, TOO_COSTLY);

    private final Severity severity;
    private final String says;
    private final String remedy;

    Hint(Severity severity, String says, String remedy) {
        this.severity = severity;
        this.says = says;
        this.remedy = remedy;
    }

    public String code() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    public Severity severity() {
        return severity;
    }

    public String says() {
        return says;
    }

    public String remedy() {
        return remedy;
    }

    /** Whether a file with it can harm whoever uses it. */
    public boolean isDangerous() {
        return DANGEROUS.contains(this);
    }

    /** Whether a file with it is held back from handing out until somebody decides: nobody knows what unread parts do. */
    public boolean isHeldBack() {
        return isDangerous() || this == UNREAD;
    }

    /** Whether the file is sound but for this, and whoever got it can put it right. */
    public boolean isCompleted() {
        return COMPLETED.contains(this);
    }
}
