package tender.store.office;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.Secret;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.office.Device;
import tender.store.jdbc.Conditions;
import tender.store.jdbc.Like;
import tender.store.jdbc.Params;
import tender.store.jdbc.Row;
import tender.store.jdbc.Slice;
import tender.store.jdbc.Tx;
import tender.store.secret.ColumnCipher;
import tender.store.secret.EncryptedColumn;

/** Devices that take VPN connections. The key Tender signs in with is opened apart. */
public final class Gateways {
    /** The connector of gateways that people manage by hand. */
    public static final String MANUAL = "manual";

    /** A gateway: who it is, how it is managed, what operators say of it, and what it said of itself. */
    public record Gateway(
            UUID id,
            UUID siteId,
            String site,
            String name,
            String kind,
            Management management,
            OperatorSettings settings,
            LastReading reading,
            Instant createdAt,
            int version) {
        public String connector() {
            return management.connector();
        }

        /** Whether people manage it, and Tender never connects to it. */
        public boolean isManual() {
            return management.connector().equals(MANUAL);
        }

        public Host address() {
            return management.address();
        }

        public Port port() {
            return management.port();
        }

        public String user() {
            return management.user();
        }

        public String identity() {
            return management.identity();
        }

        public boolean identityAccepted() {
            return management.identityAccepted();
        }

        public String description() {
            return management.description();
        }

        public boolean readOnly() {
            return management.readOnly();
        }

        public Optional<IpAddress> insideHost() {
            return settings.insideHost();
        }

        public List<Host> hosts() {
            return settings.hosts();
        }

        public String factory() {
            return settings.factory();
        }

        public String uplinks() {
            return settings.uplinks();
        }

        public String contact() {
            return settings.contact();
        }

        public String release() {
            return reading.release();
        }

        public Optional<String> device() {
            return reading.device();
        }

        public String signIn() {
            return management.signIn();
        }

        public Optional<String> jump() {
            return management.jump();
        }

        /** The same as operators want it now, by the version that they read. */
        public Gateway with(String newKind, OperatorSettings fresh, Management managed) {
            return new Gateway(id, siteId, site, name, newKind, managed, fresh, reading, createdAt, version);
        }

        public Gateway named(String fresh) {
            return new Gateway(id, siteId, site, fresh, kind, management, settings, reading, createdAt, version);
        }
    }

    /**
     * How a gateway is managed.
     *
     * @param identity its host key, as its connector shows it
     * @param description of its kind of device, by name
     * @param signIn what Tender signs in with: key, password or token
     * @param jump the gateway through which it is reached, by name
     */
    public record Management(
            String connector,
            Host address,
            Port port,
            String user,
            String identity,
            boolean identityAccepted,
            String description,
            boolean readOnly,
            String signIn,
            Optional<String> jump) {}

    /**
     * What operators say of a gateway.
     *
     * @param insideHost answers through its tunnels
     * @param hosts what clients are told to call, in order, where that differs from what the line is known by
     * @param factory whether its factory password was changed
     * @param uplinks how it is reached: JSON of a list
     * @param contact mail address of whoever does by hand there what Tender cannot; empty where nobody is named
     */
    public record OperatorSettings(
            Optional<IpAddress> insideHost, List<Host> hosts, String factory, String uplinks, String contact) {
        public OperatorSettings {
            hosts = List.copyOf(hosts);
        }

        /** Of a gateway that was just added. */
        public static OperatorSettings of(Optional<IpAddress> insideHost, List<Host> hosts) {
            return new OperatorSettings(insideHost, hosts, "not-asked", "[]", "");
        }
    }

    /**
     * What a gateway said of itself when it was last read.
     *
     * @param at empty before the first reading
     * @param problem why the last reading failed
     * @param device JSON; empty before the first reading
     */
    public record LastReading(
            String make,
            String model,
            String release,
            Optional<Instant> at,
            Optional<String> problem,
            Optional<String> device) {
        public static final LastReading NEVER =
                new LastReading("", "", "", Optional.empty(), Optional.empty(), Optional.empty());
    }

    private final ColumnCipher cipher;

    public Gateways(ColumnCipher cipher) {
        this.cipher = cipher;
    }

    private static final String INSERT = """
            insert into gateway (id, site_id, name, kind, connector, address, port, username, sign_in_key, identity,
                                 inside_host, hosts, created_at, description, read_only, sign_in, jump_id)
            values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?::text[], ?, ?, ?, ?, (select id from gateway where name = ? and archived_at is null))""";

    /**
     * @param signInKey encrypted at once
     * @throws tender.store.jdbc.ConflictException where the name is taken
     */
    public void insert(Tx tx, Gateway g, Secret signInKey) {
        tx.updateOne(
                INSERT,
                p -> p.id(g.id())
                        .id(g.siteId())
                        .text(g.name())
                        .text(g.kind())
                        .text(g.connector())
                        .text(g.address().toString())
                        .integer(g.port().number())
                        .text(g.user())
                        .bytes(cipher.seal(signInKey, EncryptedColumn.GATEWAY_SIGN_IN, g.id()))
                        .text(g.identity())
                        .text(g.insideHost().map(Object::toString))
                        .texts(g.hosts())
                        .instant(g.createdAt())
                        .text(g.description())
                        .flag(g.readOnly())
                        .text(g.signIn())
                        .text(g.jump()));
    }

    private static final String SELECT = """
            select g.id, g.site_id, s.name as site, g.name, g.kind, g.make, g.model, g.release, g.connector, g.address, g.port,
                   g.username, g.identity, g.identity_accepted, g.inside_host, g.hosts, g.read_at, g.read_problem,
                   g.created_at, g.version, g.description, g.read_only, g.factory, g.uplinks::text as uplinks, g.contact,
                   g.device::text as device, g.sign_in, (select j.name from gateway j where j.id = g.jump_id) as jump
            from gateway g
            join site s on s.id = g.site_id
            """;
    private static final String BY_NAME = SELECT + "where g.name = ? and g.archived_at is null";
    private static final String BY_ID = SELECT + "where g.id = ? and g.archived_at is null";

    /** All, by name. */
    public List<Gateway> all(Tx tx) {
        return page(tx, Filter.ALL, Slice.after("", Integer.MAX_VALUE));
    }

    /**
     * Which gateways are listed; what is empty does not narrow.
     *
     * @param text a part of its name, or of its site's name or title
     * @param site its site's name
     * @param kind router, nas or firewall
     */
    public record Filter(
            Optional<String> text, Optional<String> site, Optional<String> kind, Optional<Condition> condition) {
        public static final Filter ALL =
                new Filter(Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());
    }

    /** How a gateway is, as its list says it. */
    public enum Condition {
        OK("g.identity_accepted and g.read_at is not null and g.read_problem is null"),
        UNREACHABLE("g.read_problem is not null"),
        IDENTITY_NOT_ACCEPTED("not g.identity_accepted"),
        NOT_READ("g.identity_accepted and g.read_at is null and g.read_problem is null");

        private final String sql;

        Condition(String sql) {
            this.sql = sql;
        }

        public String word() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }

    /** What the list can be sorted by. */
    public static final Map<String, String> SORTS = Map.of(
            "name", "g.name",
            "site", "s.title",
            "device", "g.make || ' ' || g.model || ' ' || g.release",
            "backup", "select coalesce(max(b.taken_at), '-infinity') from backup b where b.gateway_id = g.id",
            "findings",
                    "select count(*) + 10000 * count(*) filter (where f.severity = 'error') from finding f where f.gateway_id = g.id",
            "people",
                    "select count(distinct t.person_id) from profile_standing t where t.gateway_id = g.id and t.state <> 'withdrawn'");

    /** By name, or as asked for. */
    public List<Gateway> page(Tx tx, Filter filter, Slice<String> slice) {
        Conditions where = new Conditions().and("g.archived_at is null", p -> p);
        slice.narrow(where, "g.name > ?", Params::text);
        filter.site().ifPresent(name -> where.and("s.name = ?", p -> p.text(name)));
        filter.kind().ifPresent(kind -> where.and("g.kind = ?", p -> p.text(kind)));
        filter.condition().ifPresent(c -> where.and(c.sql, p -> p));
        filter.text()
                .map(Like::containing)
                .ifPresent(like -> where.and(
                        "g.name ilike ? or s.name ilike ? or s.title ilike ?",
                        p -> p.text(like).text(like).text(like)));
        return tx.list(
                SELECT + "where " + where.sql() + slice.end("g.name"),
                p -> slice.fill(where.fill(p)),
                Gateways::gateway);
    }

    private static final String ALONG = """
            with recursive
            inner_ones as (
                select g.id, g.name from gateway g where g.id = ?
                union
                select g.id, g.name from gateway g join inner_ones i on i.name = any(g.behind)),
            outer_ones as (
                select g.id, g.behind from gateway g join inner_ones i on i.id = g.id
                union
                select g.id, g.behind from gateway g join outer_ones o on g.name = any(o.behind))
            select id from inner_ones union select id from outer_ones""";

    /** A gateway, those that stand behind it directly or further in, and all that these stand behind. */
    public static List<UUID> along(Tx tx, UUID gatewayId) {
        return tx.list(ALONG, p -> p.id(gatewayId), row -> row.id("id"));
    }

    private static final String BEHIND = SELECT + "where ? = any(g.behind) and g.archived_at is null order by g.name";

    /** Those that stand behind a gateway of this name and behind no other on the way. */
    public List<Gateway> directlyBehind(Tx tx, String name) {
        return tx.list(BEHIND, p -> p.text(name), Gateways::gateway);
    }

    private static final String THESE = SELECT + "where g.id = any(?) and g.archived_at is null order by g.name";

    public List<Gateway> these(Tx tx, Collection<UUID> ids) {
        return tx.list(THESE, p -> p.ids(ids), Gateways::gateway);
    }

    public Optional<Gateway> byName(Tx tx, String name) {
        return tx.first(BY_NAME, p -> p.text(name), Gateways::gateway);
    }

    public Optional<Gateway> byId(Tx tx, UUID id) {
        return tx.first(BY_ID, p -> p.id(id), Gateways::gateway);
    }

    private static final String LOCK = "select id from gateway where id = ? for update";

    /** Held until the transaction ends, against others who change what is known of it. */
    public static void lock(Tx tx, UUID id) {
        tx.first(LOCK, p -> p.id(id), row -> row.id("id"));
    }

    private static Gateway gateway(Row row) {
        return new Gateway(
                row.id("id"),
                row.id("site_id"),
                row.text("site"),
                row.text("name"),
                row.text("kind"),
                new Management(
                        row.text("connector"),
                        Host.parse(row.text("address")),
                        new Port(row.integer("port")),
                        row.text("username"),
                        row.text("identity"),
                        row.flag("identity_accepted"),
                        row.text("description"),
                        row.flag("read_only"),
                        row.text("sign_in"),
                        row.optionalText("jump")),
                new OperatorSettings(
                        row.optionalText("inside_host").map(IpAddress::parse),
                        row.texts("hosts").stream().map(Host::parse).toList(),
                        row.text("factory"),
                        row.text("uplinks"),
                        row.text("contact")),
                new LastReading(
                        row.text("make"),
                        row.text("model"),
                        row.text("release"),
                        row.optionalInstant("read_at"),
                        row.optionalText("read_problem"),
                        row.optionalText("device")),
                row.instant("created_at"),
                row.integer("version"));
    }

    private static final String KEY = "select sign_in_key from gateway where id = ?";

    /**
     * @throws java.util.NoSuchElementException where there is no such gateway
     */
    public Secret signInKey(Tx tx, UUID id) {
        return tx.first(
                        KEY,
                        p -> p.id(id),
                        row -> cipher.open(row.bytes("sign_in_key"), EncryptedColumn.GATEWAY_SIGN_IN, id))
                .orElseThrow();
    }

    /** What was signed in with at a gateway that was removed is known to nobody any more. */
    public void forgetSignIn(Tx tx, UUID id) {
        tx.updateOne(
                SIGN_IN,
                p -> p.bytes(cipher.seal(Secret.of(""), EncryptedColumn.GATEWAY_SIGN_IN, id))
                        .id(id));
    }

    private static final String ACCEPT = """
            update gateway
            set identity = ?, identity_accepted = true, version = version + 1
            where id = ? and version = ?""";

    /**
     * @param version as it was read; the call fails where somebody was faster
     */
    public void acceptIdentity(Tx tx, UUID id, String identity, int version) {
        tx.updateOne(ACCEPT, p -> p.text(identity).id(id).integer(version));
    }

    private static final String FACTS = """
            update gateway
            set make = ?, model = ?, release = ?, inside_host = coalesce(inside_host, ?), device = ?::jsonb, read_at = ?,
                read_problem = null
            where id = ?""";

    /**
     * What a reading found.
     *
     * @param document all of it, as JSON
     */
    public record Found(UUID gatewayId, Device device, String document, Instant at) {}

    /** Keeps what a reading found; what an operator set stays. */
    public void facts(Tx tx, Found found) {
        Device d = found.device();
        tx.updateOne(
                FACTS,
                p -> p.text(d.make())
                        .text(d.model())
                        .text(d.release())
                        .text(d.insideHost().map(Object::toString))
                        .text(found.document())
                        .instant(found.at())
                        .id(found.gatewayId()));
    }

    private static final String DEVICE = "update gateway set device = ?::jsonb where id = ?";

    /** What the device will say of itself from now on: it was read back after a change of ours. */
    public void device(Tx tx, UUID id, String device) {
        tx.updateOne(DEVICE, p -> p.text(device).id(id));
    }

    private static final String PROBLEM = "update gateway set read_problem = ? where id = ?";

    /** Why the gateway could not be asked last; empty where it answered. */
    public void problem(Tx tx, UUID id, Optional<String> problem) {
        tx.update(PROBLEM, p -> p.text(problem).id(id));
    }

    private static final String SET = """
            update gateway
            set name = ?, inside_host = ?, hosts = ?::text[], uplinks = ?::jsonb, factory = ?, read_only = ?, description = ?,
                contact = ?, kind = ?, address = ?, port = ?, username = ?, identity = ?, identity_accepted = ?, sign_in = ?,
                jump_id = (select id from gateway where name = ? and archived_at is null), version = version + 1
            where id = ? and version = ?""";
    private static final String SIGN_IN = "update gateway set sign_in_key = ? where id = ?";

    /**
     * What operators say of a gateway and how it is managed; the others of its values stay.
     *
     * @param secret what to sign in with from now on, encrypted at once; empty: what there is stays
     */
    public void set(Tx tx, Gateway g, Optional<Secret> secret, int version) {
        secret.ifPresent(s -> tx.updateOne(
                SIGN_IN,
                p -> p.bytes(cipher.seal(s, EncryptedColumn.GATEWAY_SIGN_IN, g.id()))
                        .id(g.id())));
        tx.updateOne(
                SET,
                p -> p.text(g.name())
                        .text(g.insideHost().map(Object::toString))
                        .texts(g.hosts())
                        .text(g.uplinks())
                        .text(g.factory())
                        .flag(g.readOnly())
                        .text(g.description())
                        .text(g.contact())
                        .text(g.kind())
                        .text(g.address().toString())
                        .integer(g.port().number())
                        .text(g.user())
                        .text(g.identity())
                        .flag(g.identityAccepted())
                        .text(g.signIn())
                        .text(g.jump())
                        .id(g.id())
                        .integer(version));
    }

    private static final String JOINED = """
            select a.name as one, b.name as other
            from joined j
            join gateway a on a.id = j.one
            join gateway b on b.id = j.other""";
    private static final String JOIN = """
            insert into joined (one, other)
            values (least(?::uuid, ?::uuid), greatest(?::uuid, ?::uuid))
            on conflict do nothing""";

    /** Names of two gateways joined as one network. */
    public record Joined(String one, String other) {}

    public static List<Joined> joined(Tx tx) {
        return tx.list(JOINED, p -> p, row -> new Joined(row.text("one"), row.text("other")));
    }

    public static void join(Tx tx, UUID one, UUID other) {
        tx.update(JOIN, p -> p.id(one).id(other).id(one).id(other));
    }
}
