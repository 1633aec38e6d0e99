package tender.service.settings;

import java.util.Locale;

/** Every setting with its default, what is allowed and what it means; {@code docs/settings.md} is held against this. */
public enum Setting {
    DATA_FOLDER(
            "data.folder", ".data/main", "a folder", "Where this node keeps its lock, its name and the first password"),
    DATABASE_URL("database.url", "", "jdbc:postgresql://HOST:PORT/NAME", "The database"),
    DATABASE_USER("database.user", "tender", "a name", "As whom to connect to the database"),
    DATABASE_PASSWORD_FILE("database.password-file", "", "a file", "Holds the database password in its first line"),
    DATABASE_CONNECTIONS(
            "database.connections", "12", "4 to 200", "Largest number of database connections of this node"),
    HTTP_BIND("http.bind", "127.0.0.1", "an address", "Where the console and the API listen"),
    HTTP_PORT("http.port", "8440", "0 to 65535, 0 takes a free one", "Port of the console and the API"),
    HTTP_BASE_URL(
            "http.base-url",
            "",
            "https://HOST[:PORT], or http:// on loopback",
            "How browsers reach the console; empty: made from bind and port"),
    STAFF_BIND(
            "staff.bind", "127.0.0.1", "an address", "Where the staff's page listens; may be the only thing exposed"),
    STAFF_PORT("staff.port", "8441", "0 to 65535, 0 takes a free one", "Port of the staff's page"),
    STAFF_BASE_URL(
            "staff.base-url",
            "",
            "https://HOST[:PORT], or http:// on loopback",
            "How staff reach their page; stands in every link"),
    TLS_KEYSTORE(
            "tls.keystore",
            "",
            "a PKCS#12 file",
            "Certificate and key for both listeners; read again when it changes; empty: plain, for loopback or behind a proxy"),
    TLS_PASSWORD_FILE("tls.password-file", "", "a file", "Holds the keystore's password in its first line"),
    TRUSTED_PROXY(
            "trusted-proxy", "", "networks, parted by commas", "Forwarded addresses are believed from these alone"),
    MASTER_KEY_FILE(
            "master-key.file",
            "",
            "a file of mode 0600",
            "Keys that encrypt secrets, ID:HEX a line, newest last; empty: DATA_FOLDER/master-key, made at first start"),
    MASTER_KEY_COMMAND(
            "master-key.command",
            "",
            "a program and its arguments",
            "Prints the master keys; used instead of the file"),
    RESOLVER_ADDRESS("resolver.address", "", "ADDRESS:PORT", "The name server that is asked; empty: the system's"),
    CALLABLE_LOCAL(
            "callable.local",
            "",
            "networks, parted by commas",
            "Loopback and link-local ranges that gateways may be called at"),
    WATCH_SECONDS("watch.seconds", "5", "1 to 3600", "How often each gateway is asked who is connected"),
    NAMES_SECONDS("names.seconds", "30", "1 to 3600", "How often the names that clients call are looked up"),
    GUARD_SECONDS(
            "guard.seconds",
            "60",
            "3 to 900",
            "How long a device waits for word before it takes back a change that could cut Tender off"),
    ALERT_WEBHOOK(
            "alert.webhook",
            "",
            "https://HOST[:PORT]/PATH, or http:// on loopback",
            "Where word of listeners that stop or begin to work is posted as JSON; empty: nowhere"),
    ALERT_MAIL_TO("alert.mail-to", "", "mail addresses, parted by commas", "Who gets that word by mail; empty: nobody"),
    MAIL_SERVER("mail.server", "", "HOST:PORT", "The mail server that takes mail from this machine"),
    MAIL_FROM("mail.from", "", "a mail address", "From whom mail comes"),
    TRIAL_OUTSIDE(
            "trial.outside",
            "",
            "an IPv4 address",
            "A STUN server (RFC 8489), asked on port 3478 which address it sees where a full or a split tunnel is to be proven; empty: nobody is asked"),
    SECOND_FACTOR(
            "second-factor.required", "false", "true or false", "Whether everyone needs a one-time code to sign in"),
    JOB_WORKERS("job.workers", "6", "2 to 64", "How many jobs this node runs at once");

    private final String key;
    private final String fallback;
    private final String allowed;
    private final String meaning;

    Setting(String key, String fallback, String allowed, String meaning) {
        this.key = key;
        this.fallback = fallback;
        this.allowed = allowed;
        this.meaning = meaning;
    }

    public String key() {
        return key;
    }

    public String fallback() {
        return fallback;
    }

    public String allowed() {
        return allowed;
    }

    public String meaning() {
        return meaning;
    }

    /** The variable that overrides the file: {@code TENDER_HTTP_PORT}. */
    public String variable() {
        return "TENDER_" + key.toUpperCase(Locale.ROOT).replace('.', '_').replace('-', '_');
    }
}
