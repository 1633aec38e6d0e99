package tender.store.profile;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.UUID;
import org.flywaydb.core.Flyway;
import org.junit.jupiter.api.Test;
import tender.core.credential.ClientIdentity;
import tender.core.credential.RevealSecret;
import tender.store.jdbc.Db;
import tender.store.testing.TestDatabase;

/** Rows from before accounts had a table of their own are read as what they meant. */
class AccountsUpgradeTest {
    private static final String BEFORE = "20";

    private static String rows(int n, String kind, String publicPart, String second) {
        String id = "00000000-0000-0000-0000-00000000000" + n;
        String presharedId = second.isEmpty() ? "null" : "'00000000-0000-0000-0002-00000000000" + n + "'";
        String key = "'00000000-0000-0000-0001-00000000000" + n + "'";
        return """
                insert into credential (id, kind, purpose, public_part, custody, life, made_at)
                values (%s, '%s', 'p', '%s', 'HELD', 'MADE', now());
                """.formatted(key, kind, publicPart)
                + (second.isEmpty()
                        ? ""
                        : "insert into credential (id, kind, purpose, custody, life, made_at) values (%s, '%s', 'p', 'HELD', 'MADE', now());\n"
                                .formatted(presharedId, second))
                + """
                insert into profile (id, label, origin, state, created_at) values ('%s', 'p%d', 'issued', 'ready', now());
                insert into profile_listener (profile_id, position, listener_id, key_id, preshared_id, reach, full_tunnel)
                values ('%s', 0, (select id from listener), %s, %s, '{}', false);
                """.formatted(id, n, id, key, presharedId);
    }

    @Test
    void namesAndPasswordsOfBeforeBecomeAccounts() {
        try (TestDatabase database = TestDatabase.bare()) {
            Db.Place owner = database.place("tender_owner");
            Flyway.configure()
                    .dataSource(owner.url(), owner.user(), owner.password().revealText(RevealSecret.TO_SIGN_IN))
                    .locations("classpath:db/migration")
                    .target(BEFORE)
                    .load()
                    .migrate();
            database.tamper("""
                    insert into routing_domain (id, name) values (gen_random_uuid(), 'company');
                    insert into site (id, name, title, routing_domain_id, time_zone)
                    select gen_random_uuid(), 's', 's', id, 'UTC' from routing_domain limit 1;
                    insert into gateway (id, site_id, name, kind, connector, address, port, username, sign_in_key, identity, created_at, description)
                    select gen_random_uuid(), id, 'g', 'router', 'ssh', '192.0.2.1', 22, 'k', '', 'x', now(), 'plain-router' from site;
                    insert into listener (id, gateway_id, name, protocol, transport, port, public_key, tunnels, in_force)
                    select gen_random_uuid(), id, 'l', 'openvpn', 'udp', 1194, '', '{}', true from gateway;
                    """ + rows(1, "PASSWORD", "name:mara", "")
                    + rows(2, "CERTIFICATE", "name:bram-laptop", "PASSWORD")
                    + rows(3, "CERTIFICATE", "name:corin", "") + rows(4, "TUNNEL_KEY_PAIR", "KEY", "PRESHARED_KEY")
                    + """
                    insert into session (id, listener_id, public_key, profile_id, endpoint, since, last_heard, received, sent)
                    select gen_random_uuid(), l.id, 'name:mara', '00000000-0000-0000-0000-000000000001', '', '2020-01-01', now(), 1, 1
                    from listener l;
                    """);

            try (Db db = database.open()) {
                Profiles.Profile[] p = new Profiles.Profile[5];
                for (int n = 1; n <= 4; n++) {
                    UUID id = UUID.fromString("00000000-0000-0000-0000-00000000000" + n);
                    p[n] = db.inTransaction(tx -> Profiles.byId(tx, id)).orElseThrow();
                }

                assertThat(p[1].identity()).isEqualTo(new ClientIdentity.Account("mara"));
                assertThat(p[1].account()).contains(new Accounts.Ref("mara", p[1].keyId()));
                assertThat(p[2].identity()).isEqualTo(new ClientIdentity.CertificateName("bram-laptop"));
                assertThat(p[2].account().orElseThrow().name()).isEqualTo("bram-laptop");
                assertThat(p[2].account().orElseThrow().credentialId()).isNotEqualTo(p[2].keyId());
                assertThat(p[2].presharedId()).isEmpty();
                assertThat(p[3].identity()).isEqualTo(new ClientIdentity.CertificateName("corin"));
                assertThat(p[3].account()).isEmpty();
                assertThat(p[4].identity()).isEqualTo(new ClientIdentity.Key("KEY"));
                assertThat(p[4].presharedId()).isPresent();
                assertThat(p[4].account()).isEmpty();
                assertThat(db.<Long>inTransaction(tx -> tx.first(
                                        "select count(*) as n from session where public_key = 'mara'",
                                        q -> q,
                                        r -> r.number("n"))
                                .orElseThrow()))
                        .isOne();
            }
        }
    }
}
