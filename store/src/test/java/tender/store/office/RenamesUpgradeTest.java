package tender.store.office;

import static org.assertj.core.api.Assertions.assertThat;

import org.flywaydb.core.Flyway;
import org.junit.jupiter.api.Test;
import tender.core.credential.RevealSecret;
import tender.store.jdbc.Db;
import tender.store.testing.TestDatabase;

/** What an older installation has stored carries the trade's words after the upgrade. */
class RenamesUpgradeTest {
    private static final String BEFORE = "29";

    private static Flyway flyway(Db.Place owner, String target) {
        return Flyway.configure()
                .dataSource(owner.url(), owner.user(), owner.password().revealText(RevealSecret.TO_SIGN_IN))
                .locations("classpath:db/migration")
                .target(target)
                .load();
    }

    private static String text(Db db, String sql) {
        return db.inTransaction(
                tx -> tx.first(sql, p -> p, row -> row.text("it")).orElseThrow());
    }

    @Test
    void documentsStatesAndGrantsAreRenamed() {
        try (TestDatabase database = TestDatabase.bare()) {
            Db.Place owner = database.place("tender_owner");
            flyway(owner, BEFORE).migrate();
            database.tamper("""
                    insert into routing_domain (id, name) values (gen_random_uuid(), 'company');
                    insert into team (id, name) values (gen_random_uuid(), 'masters');
                    insert into site (id, name, title, routing_domain_id, time_zone)
                    select gen_random_uuid(), 's', 's', id, 'UTC' from routing_domain limit 1;
                    insert into gateway (id, site_id, name, kind, connector, address, port, username, sign_in_key, identity, created_at, description, device)
                    select gen_random_uuid(), id, 'g', 'router', 'ssh', '192.0.2.1', 22, 'k', '', 'x', now(), 'plain-router',
                           '{"networks": [{"name": "office", "fixed": {"printer": "10.0.0.9"}}], "listeners": [{"name": "l", "values": {"wrapping": "crypt", "tunnels": "10.9.0.0/24", "in-force": "yes"}}]}'
                    from site;
                    insert into listener (id, gateway_id, name, protocol, transport, port, public_key, tunnels, in_force)
                    select gen_random_uuid(), id, 'l', 'openvpn', 'udp', 1194, '', '{}', true from gateway;
                    insert into variant (id, listener_id, team_id, full_tunnel, reach, dns, life_days, set_at)
                    select gen_random_uuid(), l.id, t.id, false, '{}', '{}', 90, now() from listener l, team t;
                    insert into device_change (id, gateway_id, state, changes, words, guard_seconds, ordered_by, ordered_at)
                    select gen_random_uuid(), id, 'kept', '[{"change": "add-beside", "listener": "l", "name": "m", "values": {"wrapping": "none"}}, {"change": "take-up"}]', '', 0, 'o', now()
                    from gateway;
                    insert into credential (id, kind, purpose, public_part, custody, life, made_at)
                    values (gen_random_uuid(), 'CERTIFICATE', 'p', 'x', 'HELD', 'MADE', now());
                    """);
            flyway(owner, "latest").migrate();
            try (Db db = Db.open(database.place("tender_owner"))) {
                assertThat(text(db, "select device::text as it from gateway"))
                        .contains(
                                "\"reserved\"",
                                "\"control-channel-key\": \"crypt\"",
                                "\"tunnel-network\"",
                                "\"active\"")
                        .doesNotContain("fixed", "wrapping", "\"tunnels\"", "in-force");
                assertThat(text(db, "select changes::text as it from device_change"))
                        .contains("\"add-listener\"", "\"reload\"", "\"control-channel-key\": \"none\"")
                        .doesNotContain("add-beside", "take-up", "wrapping");
                assertThat(text(db, "select state as it from credential")).isEqualTo("CREATED");
                assertThat(text(db, "select valid_days::text as it from listener_grant"))
                        .isEqualTo("90");
                assertThat(text(db, "select active::text as it from listener")).isEqualTo("true");
            }
        }
    }
}
