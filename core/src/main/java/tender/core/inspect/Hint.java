package tender.core.inspect;

import static tender.core.finding.Severity.ERROR;
import static tender.core.finding.Severity.NOTICE;
import static tender.core.finding.Severity.WARNING;

import java.util.EnumSet;
import java.util.Locale;
import java.util.Set;
import tender.core.finding.Severity;

/** Everything that can be said against a file, decided here once: how bad it is, what it means and what to do. */
public enum Hint {
    // where it leads
    ENDPOINT_MISSING(ERROR, "The file has no endpoint.", "Add the gateway's name or address."),
    ENDPOINT_PLACEHOLDER(
            ERROR, "The endpoint is placeholder text from a template.", "Replace it with the gateway's name."),
    ENDPOINT_WRONG(
            ERROR, "The endpoint is neither a name nor an address.", "Replace it with the gateway's name or address."),
    NAME_UNUSUAL(
            NOTICE,
            "The endpoint's name has characters that not every program resolves.",
            "Use a name of letters, digits and hyphens; write an international name in its xn-- form."),
    ENDPOINT_PRIVATE(ERROR, "The endpoint is a private address.", "Use the gateway's public name or address."),
    ENDPOINT_LITERAL(
            NOTICE, "The endpoint is an address, not a name.", "Use a name, so that a new address needs no new file."),
    TUNNEL_ADDRESS_MISSING(
            ERROR, "The file has no tunnel address.", "Add the address that the gateway has for this client."),
    REACH_MISSING(ERROR, "The file sends no traffic through the tunnel.", "Add the networks to reach."),
    NETWORK_TWICE(
            WARNING,
            "Two peers have the same allowed network; the later one gets the traffic.",
            "Remove it from one of them."),
    REACH_LEAKS_V6(WARNING, "All IPv4 traffic goes through the tunnel, IPv6 does not.", "Send IPv6 through it too."),
    ALL_THROUGH_PROXY(
            WARNING,
            "All traffic goes through a proxy that the file names.",
            "Check who runs the proxy, or remove the line."),
    // certificates and keys
    CERTIFICATE_EXPIRED(ERROR, "A certificate has expired.", "Renew it."),
    CERTIFICATE_EXPIRES_SOON(WARNING, "A certificate expires within a month.", "Renew it."),
    CERTIFICATE_NOT_YET(ERROR, "A certificate is not valid yet.", "Check the clock of the machine that created it."),
    CERTIFICATE_REVOKED(
            ERROR,
            "A revocation list given with the file revokes this certificate.",
            "Issue a new certificate if this client may connect."),
    CERTIFICATE_MISSING(ERROR, "The client certificate is missing.", "Add the certificate with its key."),
    KEY_MISSING(ERROR, "The private key is missing.", "Add the key, or create a new pair."),
    KEY_OTHER(
            ERROR,
            "The private key does not belong to the certificate.",
            "Use the key and certificate that belong together."),
    KEY_OWN_AS_PEER(
            ERROR, "The peer's public key is the client's own key.", "Replace it with the gateway's public key."),
    AUTHORITY_MISSING(
            ERROR, "The certificate authority for checking the server is missing.", "Add the authority's certificate."),
    AUTHORITY_OTHER(
            WARNING,
            "The certificate was not signed by the authority in the file.",
            "Check which authority the server trusts."),
    ROLE_WRONG(
            ERROR,
            "A certificate has the wrong role.",
            "Use a client certificate for a client and a server certificate for a server."),
    AUTHORITY_KEY_INSIDE(
            ERROR,
            "The authority's private key is in the file: anyone with the file can create certificates.",
            "Remove it; if the file was shared, treat the authority as compromised."),
    KEY_SHORT(WARNING, "A key is too short.", "Create a new key: EC P-256, or RSA with 2048 bits or more."),
    SIGNATURE_WEAK(WARNING, "A certificate is signed with a weak digest.", "Have it signed again with SHA-256."),
    KEY_OPEN(
            NOTICE,
            "The file contains an unencrypted private key.",
            "Anyone with the file has the key; hand it out encrypted."),
    KEY_LOCKED(
            NOTICE,
            "A private key is encrypted with a passphrase.",
            "Send the passphrase by another way than the file."),
    KEY_STORE_LEGACY(WARNING, "The key store uses weak, old encryption.", "Write it again with AES-256."),
    LOCK_REFUSED(
            ERROR, "It is encrypted with an algorithm that current programs refuse.", "Encrypt it again with AES-256."),
    PASSPHRASE_NEEDED(NOTICE, "Tender needs the passphrase to look inside.", "Give the passphrase."),
    PART_ELSEWHERE(
            ERROR, "The file needs another file that was not given.", "Give the files together, or put them into one."),
    LIST_EXPIRED(ERROR, "The revocation list has expired; servers refuse everyone.", "Renew the list."),
    LIST_EXPIRES_SOON(WARNING, "The revocation list expires within a week.", "Renew the list."),
    LIST_NAMES_NO_KEY(
            WARNING,
            "The revocation list does not name its authority's key; some servers ignore it silently.",
            "Create it with a program that adds the authority key identifier."),
    REQUEST_UNSIGNED(ERROR, "The certificate request is not signed with its own key.", "Create the request again."),
    // strength
    SERVER_UNCHECKED(
            WARNING,
            "The client accepts any certificate of the authority as the server's, even a colleague's.",
            "Check the server's name or role."),
    CERTIFICATE_NOT_ASKED(
            WARNING, "The server does not require a client certificate.", "Require a certificate from every device."),
    CIPHER_WEAK(WARNING, "The file accepts a weak cipher.", "Use AES-256-GCM or CHACHA20-POLY1305."),
    CIPHER_NONE(ERROR, "The file turns encryption off.", "Set a cipher."),
    DIGEST_WEAK(WARNING, "Packets are authenticated with a weak digest.", "Use SHA256."),
    TLS_OLD(WARNING, "The file accepts TLS versions older than 1.2.", "Set TLS 1.2 as the minimum."),
    COMPRESSION_ON(WARNING, "Compression is on; packet sizes can reveal secrets.", "Turn it off on both sides."),
    CONTROL_CHANNEL_KEY_MISSING(
            NOTICE, "Anyone can start a handshake.", "Add the tls-crypt key if the server uses one."),
    STATIC_KEY_MODE(WARNING, "One static key encrypts all traffic, past and future.", "Use certificates."),
    PROTOCOL_BROKEN(ERROR, "This VPN protocol is broken: others can decrypt it.", "Use another protocol."),
    PROTOCOL_WEAK(WARNING, "This VPN protocol depends on one shared secret.", "Use certificates, or another protocol."),
    PRESHARED_MISSING(
            NOTICE,
            "The file has no preshared key.",
            "Add one; it costs nothing and protects against quantum computers."),
    // dangerous lines
    RUNS_PROGRAM(
            ERROR,
            "The file runs a program on the device.",
            "Check the program; remove the line if you do not know why it is there."),
    LOADS_CODE(
            ERROR, "The file loads code into the VPN program.", "Remove the line if you do not know why it is there."),
    SETS_VARIABLE(
            ERROR,
            "The file sets an environment variable that decides which code programs load.",
            "Remove the line if you do not know why it is there."),
    SCRIPTS_ALLOWED(
            WARNING,
            "The file allows the VPN program to run other programs.",
            "Remove the line, unless a script that you know needs it."),
    WRITES_FILE(
            WARNING,
            "The file makes the VPN program write a file on the device.",
            "Remove the line unless it is needed."),
    CHECK_OFF(WARNING, "The file turns off a security check.", "Remove the line."),
    OPENS_CONTROL(
            WARNING, "The file lets another program control the VPN program.", "Remove the line unless it is needed."),
    READS_OTHER(WARNING, "The file reads settings from another file.", "Inspect that file too."),
    PASSWORD_INSIDE(WARNING, "The file contains a password in plain text.", "Remove it; the program then asks for it."),
    // form
    UNREAD(
            ERROR,
            "Part of the file cannot be read, so nobody knows what it does.",
            "Correct or remove that line, then inspect the file again."),
    TOO_COSTLY(
            ERROR,
            "Inspecting the file takes more work than one request may.",
            "Inspect that file alone; encrypt keys with fewer iterations."),
    ARCHIVE_ESCAPES(
            ERROR,
            "An entry of the archive points outside of it, or is a link or a device.",
            "Do not unpack it; ask for a new archive."),
    ARCHIVE_SWELLS(
            ERROR,
            "The archive unpacks to more than Tender reads.",
            "Do not unpack it, unless you know why it is that large."),
    ARCHIVE_LOCKED(ERROR, "The archive is encrypted.", "Unpack it, and inspect what was in it."),
    ARCHIVE_DAMAGED(ERROR, "The archive is damaged.", "Ask for a new archive."),
    REFUSED(ERROR, "The VPN program that the file is for refuses it.", "Correct or remove that line."),
    DEPRECATED(NOTICE, "Current releases do not know this line, or have renamed it.", "Replace it with its successor."),
    NOT_KNOWN(NOTICE, "Tender does not know this kind of file.", "Check it by hand.");

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
