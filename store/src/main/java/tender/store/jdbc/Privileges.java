package tender.store.jdbc;

import java.util.List;

/** What the database's users may do; the owner of the tables gives it after every migration. */
final class Privileges {
    private static final String NAME = "[a-z_][a-z0-9_]{0,62}";

    private Privileges() {}

    /**
     * The service reads and writes everything but the journal, which it only adds to; the staff's page counts attempts and calls
     * its own functions.
     */
    static void give(Tx tx, String service, String staff) {
        for (String role : List.of(service, staff)) {
            if (!role.matches(NAME)) {
                throw new StoreException("a database user is a plain lower-case name", null);
            }
        }
        tx.list("select pg_advisory_xact_lock(7305006)::text as locked", p -> p, row -> row.text("locked"));
        run(
                tx,
                "grant usage on schema public to " + service,
                "grant select, insert, update, delete on all tables in schema public to " + service,
                "grant usage, select on all sequences in schema public to " + service,
                "grant execute on all functions in schema public to " + service,
                "revoke update, delete, truncate on journal from " + service,
                "alter table failed_attempt enable row level security",
                "drop policy if exists service_all on failed_attempt",
                "create policy service_all on failed_attempt to " + service + " using (true)");
        if (tx.first("select 1 as one from pg_roles where rolname = ?", p -> p.text(staff), row -> true)
                .isPresent()) {
            run(
                    tx,
                    "grant usage on schema public to " + staff,
                    "grant select, insert, delete on failed_attempt to " + staff,
                    "drop policy if exists staff_own on failed_attempt",
                    "create policy staff_own on failed_attempt to " + staff
                            + " using (subject like 'link:%' or subject like 'collect:%')",
                    "grant execute on function staff_pickup, staff_collect, staff_tried, staff_revocations, staff_provision,"
                            + " staff_provision_person, staff_enrol, staff_device, staff_device_seen, staff_deliveries,"
                            + " staff_device_report, staff_device_left to " + staff);
        }
    }

    private static void run(Tx tx, String... statements) {
        for (String statement : statements) {
            tx.update(statement, p -> p);
        }
    }
}
