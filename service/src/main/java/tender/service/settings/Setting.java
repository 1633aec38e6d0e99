package tender.service.settings;

import java.util.Locale;

/** Every setting with its default, what is allowed and what it means; {@code docs/settings.md} is held against this. */
public enum Setting {
    DATA_FOLDER(
            "data.folder", ".data/main", "a folder", "Where this node keeps its lock, its name and the first password"),
    DATABASE_URL("database.url", "", "jdbc:postgresql://HOST:PORT/NAME", "The database"),
    DATABASE_USER("database.user", "tender", "a name", "As whom to connect to the database"),
    DATABASE_PASSWORD_FILE("database.password-file", "", "a file", "Holds the database password in its first line"),
    DATABASE_OWNER(
            "database.owner",
            "",
            "a name",
            "Who owns the tables and brings them up to date at start; the service's own user then may only add to the journal; empty: the service's own user"),
    DATABASE_OWNER_PASSWORD_FILE(
            "database.owner-password-file", "", "a file", "Holds the owner's password in its first line"),
    DATABASE_STAFF_USER(
            "database.staff-user",
            "tender_staff",
            "a name",
            "The database user of a staff's page that runs apart; it may call what the page needs and read no table"),
    DATABASE_CONNECTIONS(
            "database.connections", "12", "4 to 200", "Largest number of database connections of this node"),
    HTTP_BIND("http.bind", "127.0.0.1", "an address", "Where the console and the API listen"),
    HTTP_PORT("http.port", "8440", "0 to 65535, 0 takes a free one", "Port of the console and the API"),
    HTTP_BASE_URL(
            "http.base-url",
            "",
            "https://HOST[:PORT], or http:// on loopback",
            "How browsers reach the console; empty: made from bind and port"),
    STAFF_RUN(
            "staff.run",
            "here",
            "here, apart or only",
            "Where the staff's page runs: in this process, in another one, or this process is the staff's page and nothing else"),
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
    NAMES_SECONDS("names.seconds", "30", "1 to 3600", "How often the names that clients connect to are looked up"),
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
    MAIL_STARTTLS(
            "mail.starttls",
            "required",
            "required, offered or none",
            "Whether mail goes by TLS alone, by TLS where the server offers it, or in clear"),
    MAIL_FROM("mail.from", "", "a mail address", "From whom mail comes"),
    TRIAL_OUTSIDE(
            "trial.outside",
            "",
            "an IPv4 address",
            "A STUN server (RFC 8489), asked on port 3478 which address it sees where a full or a split tunnel is to be proven; empty: nobody is asked"),
    SECOND_FACTOR(
            "second-factor.required", "false", "true or false", "Whether everyone needs a one-time code to sign in"),
    PASSWORD_MEMORY(
            "password.memory",
            "19456",
            "64 to 262144, in KiB",
            "Memory that hashing an operator's password takes: more makes a stolen hash harder to guess; less than the default is for tests alone"),
    CUSTODY_DAYS(
            "custody.erase-days",
            "0",
            "0 to 3650, 0 keeps them",
            "How many days after a proven collection a private key that Tender holds is erased"),
    JOURNAL_HEAD_FILE(
            "journal.head-file",
            "",
            "a file",
            "Where the end of the journal's chain is written each hour, a line each; empty: nowhere"),
    JOURNAL_HEAD_SYSLOG(
            "journal.head-syslog",
            "",
            "ADDRESS:PORT",
            "A syslog server (RFC 5424 over UDP) that gets the end of the journal's chain each hour; empty: nobody"),
    JOURNAL_HEAD_MAIL(
            "journal.head-mail",
            "false",
            "true or false",
            "Whether alert.mail-to gets the end of the journal's chain by mail once a day"),
    METRICS_ADDRESS(
            "metrics.address",
            "",
            "ADDRESS:PORT",
            "Where /metrics is served in Prometheus' text format, to whoever reaches it; empty: nowhere"),
    LOG_FILE(
            "log.file",
            "",
            "a file",
            "Where the log is written, mode 0600, five files of 10 MB at most; empty: to standard output"),
    JOB_WORKERS(
            "job.workers",
            "6",
            "2 to 64",
            "How many jobs of each lane (interactive, gateway, trial, upkeep) this node runs at once");

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
