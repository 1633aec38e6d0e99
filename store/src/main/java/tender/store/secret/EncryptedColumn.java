package tender.store.secret;

/**
 * Every column whose values are encrypted under the master key; there are no others. A value is bound to its table, column and
 * row, so that one that is moved elsewhere does not open.
 */
public enum EncryptedColumn {
    /** Proves that the master key at hand is the database's. */
    KEY_CHECK("installation", "key_check"),
    /** Chains the journal. */
    JOURNAL_KEY("installation", "journal_key"),
    /** Signs provisioning files. */
    SIGNER_KEY("installation", "signer_key"),
    /** Signs in to a gateway. */
    GATEWAY_SIGN_IN("gateway", "sign_in_key"),
    /** Makes an operator's one-time codes. */
    ONE_TIME_CODES("operator", "totp_secret"),
    /** Private keys, preshared keys and passwords of profiles. */
    CREDENTIAL("credential", "secret"),
    /** Signs certificates. */
    AUTHORITY_KEY("authority", "sealed_key"),
    /** Private keys of certificates. */
    CERTIFICATE_KEY("certificate", "sealed_key"),
    /** Client files. */
    REVISION("profile_revision", "content"),
    /** Configurations of gateways. */
    BACKUP("backup", "content"),
    /** Files given for gateways that nobody can reach. */
    GIVEN_FILE("given_file", "content"),
    /** Client files as gateways gave them. */
    ARCHIVE("imported_archive", "content"),
    /** Answers kept for calls that are made again. */
    REPLAY("idempotency", "answer", "operator_id || '/' || key", "?", "");

    private final String table;
    private final String column;
    private final String row;
    private final String parameter;
    private final String first;

    EncryptedColumn(String table, String column) {
        this(table, column, "id", "?::uuid", "00000000-0000-0000-0000-000000000000");
    }

    EncryptedColumn(String table, String column, String row, String parameter, String first) {
        this.table = table;
        this.column = column;
        this.row = row;
        this.parameter = parameter;
        this.first = first;
    }

    public String table() {
        return table;
    }

    public String column() {
        return column;
    }

    /** What a value is bound to: {@code table.column/row}. */
    String place(Object row) {
        return table + "." + column + "/" + row;
    }

    /** SQL for what names a row in a value's place. */
    String row() {
        return row;
    }

    /** SQL for a parameter that is compared with it. */
    String parameter() {
        return parameter;
    }

    /** A name that stands before every row's. */
    public String first() {
        return first;
    }
}
