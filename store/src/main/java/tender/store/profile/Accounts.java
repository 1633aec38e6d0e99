package tender.store.profile;

import java.util.List;
import java.util.UUID;
import tender.store.jdbc.Tx;

/** Every account of Tender's own making that a profile at a gateway has or had, and whether it is to be let in. */
public final class Accounts {
    /**
     * An account.
     *
     * @param admitted whether the records want it there now
     * @param ended whether it is kept out only because its time is over, so that it can be renewed
     */
    public record Known(UUID profileId, String name, boolean admitted, boolean ended) {}

    /** A profile's account: its name, and the credential that holds its password. */
    public record Ref(String name, UUID credentialId) {}

    private Accounts() {}

    private static final String INSERT = "insert into account (id, name, credential_id) values (?, ?, ?)";

    /**
     * @param id for the profile's row, which may be written before or after
     */
    public static void insert(Tx tx, UUID id, Ref account) {
        tx.later(INSERT, p -> p.id(id).text(account.name()).id(account.credentialId()));
    }

    private static final String OF = """
            select p.id, a.name, p.state in ('writing', 'waiting', 'ready') as living,
                   k.state = 'EXPIRED' or s.state = 'EXPIRED' as ended
            from profile p
            join profile_listener pl on pl.profile_id = p.id
            join listener l on l.id = pl.listener_id
            join credential k on k.id = pl.key_id
            join account a on a.id = pl.account_id
            join credential s on s.id = a.credential_id and s.custody in ('HELD', 'ERASED')
            where l.gateway_id = ?
            order by p.id""";

    /** Of all profiles at a gateway, by their id. */
    public static List<Known> of(Tx tx, UUID gatewayId) {
        return tx.list(
                OF,
                p -> p.id(gatewayId),
                row -> new Known(
                        row.id("id"),
                        row.text("name"),
                        row.flag("living") && !row.flag("ended"),
                        row.flag("living") && row.flag("ended")));
    }
}
