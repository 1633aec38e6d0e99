package tender.bench;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.core.backup.Snapshot;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKeyPair;
import tender.core.office.Device;
import tender.core.office.Listener;
import tender.service.device.DeviceDescriptions;
import tender.service.importing.ImportOrder;
import tender.service.importing.Importing;
import tender.service.importing.RefusedRepairs;
import tender.service.office.OfficeDocuments;
import tender.service.office.OfficeRecords;
import tender.service.profile.ImportedProfiles;
import tender.service.profile.IssueManyOrder;
import tender.service.profile.Issuing;
import tender.service.profile.ProfileKinds;
import tender.store.credential.Credentials;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.journal.By;
import tender.store.office.Gateways;
import tender.store.profile.Archives;
import tender.store.profile.Revisions;
import tender.store.secret.ColumnCipher;
import tender.store.secret.EncryptedColumn;
import tender.store.secret.MasterKey;

/**
 * Ten thousand WireGuard profiles issued and stored against their bare keys, encryption and rows; ten thousand exported
 * OpenVPN files inspected and imported against reading their bytes and parsing their certificates. Arguments: a database
 * server's URL ending in a slash, and the file of its password.
 */
public final class ManyProfiles {
    private static final int MANY = 10_000;
    private static final int ROUNDS = 4;
    private static final int IN_ARCHIVE = 2_000;
    private static final SecureRandom RANDOM = new SecureRandom();

    private final String url;
    private final Secret password;
    private final Db db;
    private final ColumnCipher cipher;
    private final Gateways gateways;
    private final UUID gateway = Ids.next();
    private final UUID listener = Ids.next();

    private ManyProfiles(String server, Secret password) throws SQLException {
        String name = "b" + UUID.randomUUID().toString().replace("-", "");
        this.password = password;
        try (Connection c = connect(server + "postgres");
                Statement s = c.createStatement()) {
            s.execute("create database " + name);
        }
        url = server + name;
        db = Db.open(new Db.Place(url, "tender_admin", password, 4, Duration.ofSeconds(5)));
        byte[] key = new byte[32];
        RANDOM.nextBytes(key);
        cipher = new ColumnCipher(List.of(new MasterKey("bench", Secret.of(key))));
        gateways = new Gateways(cipher);
        office();
    }

    private Connection connect(String to) throws SQLException {
        return DriverManager.getConnection(
                to + "?reWriteBatchedInserts=true", "tender_admin", password.revealText(RevealSecret.TO_SIGN_IN));
    }

    public static void main(String[] args) throws Exception {
        ManyProfiles bench = new ManyProfiles(
                args[0], Secret.of(Files.readString(Path.of(args[1])).strip()));
        for (int round = 0; round < ROUNDS; round++) {
            bench.people("keyed" + round);
            bench.people("bare" + round);
            double bare = bench.bare("bare" + round);
            double issued = bench.issued("keyed" + round);
            System.out.printf(
                    "round %d: %d WireGuard profiles issued and stored in %.2f s, bare keys, encryption and rows %.2f s: %.2f of its rate%n",
                    round, MANY, issued, bare, bare / issued);
        }
        bench.db.close();
        for (int round = 0; round < 2; round++) {
            ManyProfiles fresh = new ManyProfiles(args[0], bench.password);
            fresh.people("imported" + round);
            fresh.imported("imported" + round, round);
            fresh.db.close();
        }
    }

    private void office() throws SQLException {
        UUID site = Ids.next();
        String device = OfficeDocuments.DEVICE.write(Device.UNREAD.withListeners(List.of(new Listener(
                "vpn",
                Map.of(
                        tender.core.office.Attribute.PROTOCOL, "openvpn",
                        tender.core.office.Attribute.TRANSPORT, "udp",
                        tender.core.office.Attribute.PORT, "1194",
                        tender.core.office.Attribute.SERVER_NAMES, "orrin.skerrivane.example")))));
        String key = TunnelKeyPair.generate(RANDOM).publicKey().toString();
        UUID vpn = Ids.next();
        try (Connection c = connect(url);
                Statement s = c.createStatement()) {
            UUID domain = Ids.next();
            s.execute("insert into routing_domain (id, name) values ('" + domain + "', 'bench')");
            s.execute("insert into site (id, name, title, routing_domain_id, time_zone) values ('" + site
                    + "', 'port-orrin', 'Port Orrin', '" + domain + "', 'Etc/UTC')");
            s.execute("insert into gateway (id, site_id, name, kind, connector, address, port, username, sign_in_key,"
                    + " identity, created_at, device) values ('" + gateway + "', '" + site
                    + "', 'orrin', 'router', 'ssh', '192.0.2.1', 22, 'keeper', '', '', now(), '" + device + "')");
            s.execute(
                    "insert into listener (id, gateway_id, name, protocol, transport, port, public_key, tunnels, active)"
                            + " values ('" + listener + "', '" + gateway + "', 'wg0', 'wireguard', 'udp', 51820, '"
                            + key
                            + "', '{10.0.0.0/8}', true), ('" + vpn + "', '" + gateway
                            + "', 'vpn', 'openvpn', 'udp', 1194, '', '{10.99.0.0/16}', true)");
            s.execute("insert into endpoint (listener_id, position, host, port, transport) values ('" + listener
                    + "', 0, 'orrin.skerrivane.example', 51820, 'udp')");
        }
    }

    /** A team with a device for each of its people. */
    private void people(String team) throws SQLException {
        try (Connection c = connect(url);
                Statement s = c.createStatement()) {
            s.execute("insert into team (id, name) values (gen_random_uuid(), '" + team + "')");
            s.execute("insert into person (id, handle, name, mail, team_id, created_at) select gen_random_uuid(), '"
                    + team + "n' || n, 'Person ' || n, '', (select id from team where name = '" + team
                    + "'), now() from generate_series(1, " + MANY + ") n");
            s.execute("insert into device (id, person_id, name, kind, system) select gen_random_uuid(), id, 'phone',"
                    + " 'phone', '' from person where handle like '" + team + "n%'");
        }
    }

    private double issued(String team) {
        Issuing issuing = new Issuing(
                db,
                gateways,
                new ProfileKinds(
                        new Credentials(cipher),
                        new Revisions(cipher),
                        null,
                        new tender.service.profile.ByHand(
                                gateways, new tender.service.device.DeviceDescriptions(db, Map.of()))));
        long began = System.nanoTime();
        Issuing.Many many = issuing.issueMany(
                new IssueManyOrder("orrin", Optional.of("wg0"), Optional.of(team), Optional.empty(), false),
                new By("bench", Instant.now()));
        if (many.issued().size() != MANY) {
            throw new IllegalStateException(many.issued().size() + " were issued");
        }
        return (System.nanoTime() - began) / 1e9;
    }

    /** The same keys, secrets and rows by hand: nothing planned, checked, or noted in the journal. */
    private double bare(String team) throws SQLException {
        List<UUID> devices = new ArrayList<>();
        db.run(tx -> devices.addAll(tx.list(
                "select d.id from device d join person p on p.id = d.person_id where p.handle like '" + team + "n%'",
                p -> p,
                row -> row.id("id"))));
        String text = "x".repeat(380);
        long began = System.nanoTime();
        try (Connection c = connect(url)) {
            c.setAutoCommit(false);
            try (PreparedStatement credential = c.prepareStatement(
                            "insert into credential (id, device_id, kind, purpose, public_part, secret, custody, state, created_at)"
                                    + " values (?, ?, 'X', ?, ?, ?, 'HELD', 'CREATED', now())");
                    PreparedStatement profile = c.prepareStatement(
                            "insert into profile (id, device_id, label, origin, state, created_at) values (?, ?, ?, 'issued', 'writing', now())");
                    PreparedStatement at = c.prepareStatement(
                            "insert into profile_listener (profile_id, position, listener_id, key_id, preshared_id, reach, full_tunnel)"
                                    + " values (?, 0, ?, ?, ?, '{10.0.0.0/8}', false)");
                    PreparedStatement address = c.prepareStatement(
                            "insert into tunnel_address (listener_id, address, profile_id) values (?, ?::inet, ?)");
                    PreparedStatement revision = c.prepareStatement(
                            "insert into profile_revision (id, profile_id, number, digest, file_name, content, made_for, created_at)"
                                    + " values (?, ?, 1, '', 'x.conf', ?, '{}'::jsonb, now())");
                    PreparedStatement change = c.prepareStatement(
                            "insert into desired_resource (gateway_id, kind, key, listener_id, profile_id, presence, state, changed_at)"
                                    + " values (?, 'peer', ?, ?, ?, 'present', 'pending', now())")) {
                int n = 0;
                for (UUID device : devices) {
                    TunnelKeyPair pair = TunnelKeyPair.generate(RANDOM);
                    UUID id = Ids.next();
                    UUID key = Ids.next();
                    UUID preshared = Ids.next();
                    credential(credential, key, device, pair.publicKey().toString(), pair.privateKey());
                    credential(credential, preshared, device, null, TunnelKeyPair.presharedKey(RANDOM));
                    profile.setObject(1, id);
                    profile.setObject(2, device);
                    profile.setString(3, team + "-" + n);
                    profile.addBatch();
                    at.setObject(1, id);
                    at.setObject(2, listener);
                    at.setObject(3, key);
                    at.setObject(4, preshared);
                    at.addBatch();
                    address.setObject(1, listener);
                    address.setString(2, bareAddress(team, n++));
                    address.setObject(3, id);
                    address.addBatch();
                    revision.setObject(1, Ids.next());
                    revision.setObject(2, id);
                    revision.setBytes(3, cipher.seal(Secret.of(text), EncryptedColumn.REVISION, id));
                    revision.addBatch();
                    change.setObject(1, gateway);
                    change.setString(2, listener + "/" + id);
                    change.setObject(3, listener);
                    change.setObject(4, id);
                    change.addBatch();
                }
                for (PreparedStatement s : List.of(credential, profile, at, address, revision, change)) {
                    s.executeBatch();
                }
            }
            c.commit();
        }
        return (System.nanoTime() - began) / 1e9;
    }

    private static String bareAddress(String team, int n) {
        int round = team.charAt(team.length() - 1) - '0';
        return "10." + (200 + round) + "." + n / 250 + "." + (n % 250 + 1);
    }

    private void credential(PreparedStatement s, UUID id, UUID device, String publicPart, Secret secret)
            throws SQLException {
        s.setObject(1, id);
        s.setObject(2, device);
        s.setString(3, "key of a device");
        s.setString(4, publicPart);
        s.setBytes(5, cipher.seal(secret, EncryptedColumn.CREDENTIAL, id));
        s.addBatch();
    }

    private void imported(String team, int round) {
        Authority authority =
                Authority.make("Bench", key(), Instant.now(), Instant.now().plus(Duration.ofDays(900)), RANDOM);
        List<byte[]> files = new ArrayList<>();
        for (int i = 1; i <= MANY; i++) {
            files.add(file(authority, team + "n" + i + "-phone"));
        }
        List<String> archives = new ArrayList<>();
        for (int from = 0; from < MANY; from += IN_ARCHIVE - 1) {
            java.util.TreeMap<String, byte[]> part = new java.util.TreeMap<>();
            for (int i = from; i < Math.min(MANY, from + IN_ARCHIVE - 1); i++) {
                part.put("c" + i + ".ovpn", files.get(i));
            }
            archives.add(Base64.getEncoder().encodeToString(new Snapshot(part).toZip()));
        }
        long began = System.nanoTime();
        int seen = 0;
        for (byte[] file : files) {
            for (PemText.Block b :
                    PemText.read(new String(file, StandardCharsets.ISO_8859_1)).blocks()) {
                seen += b.label().equals("CERTIFICATE")
                        ? CertificateFacts.of(b.der()).commonName().length()
                        : 1;
            }
        }
        double bare = (System.nanoTime() - began) / 1e9;
        DeviceDescriptions descriptions = new DeviceDescriptions(db, Map.of());
        Importing importing = new Importing(
                db,
                new OfficeRecords(db, gateways, descriptions),
                new Archives(cipher),
                new ImportedProfiles(new Credentials(cipher), new Revisions(cipher)));
        Gateways.Gateway g = db.inTransaction(tx -> gateways.byId(tx, gateway)).orElseThrow();
        began = System.nanoTime();
        int imported = 0;
        for (String archive : archives) {
            imported += (int) importing
                    .importFiles(
                            new ImportOrder(
                                    g,
                                    Optional.empty(),
                                    "export",
                                    Base64.getDecoder().decode(archive),
                                    Map.of(),
                                    RefusedRepairs.of(List.of()),
                                    Optional.empty(),
                                    Optional.empty()),
                            new By("bench", Instant.now()))
                    .stream()
                    .filter(a -> a.label().isPresent())
                    .count();
        }
        double took = (System.nanoTime() - began) / 1e9;
        System.out.printf(
                "round %d: %d of %d exported files inspected, repaired and imported in %.2f s, %.0f a second; reading and parsing their certificates %.2f s (%d): %.3f of its rate%n",
                round, imported, MANY, took, MANY / took, bare, seen, bare / took);
    }

    private static CertificateKey key() {
        return CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
    }

    private static byte[] file(Authority authority, String name) {
        CertificateKey key = key();
        byte[] certificate = authority.sign(
                Authority.Purpose.CLIENT,
                name,
                List.of(),
                key.publicKey(),
                Instant.now(),
                Instant.now().plus(Duration.ofDays(300)),
                Optional.empty(),
                RANDOM);
        return ("client\ndev tun\nproto udp\nremote vault 1194\ncomp-lzo yes\n<ca>\n"
                        + PemText.write("CERTIFICATE", authority.certificate()) + "</ca>\n<cert>\n"
                        + PemText.write("CERTIFICATE", certificate) + "</cert>\n<key>\n"
                        + PemText.write("PRIVATE KEY", key.privateKey().reveal(RevealSecret.TO_WRITE_FILE))
                        + "</key>\n")
                .getBytes(StandardCharsets.ISO_8859_1);
    }
}
