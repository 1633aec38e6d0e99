-- The words of the trade for the last columns that had words of our own.
alter table certificate rename column starts_at to valid_from;
alter table certificate rename column ends_at to expires_at;
alter table certificate rename column made_at to created_at;
alter table authority rename column ends_at to expires_at;
alter table authority rename column made_at to created_at;
alter table authority rename column list to revocation_list;
alter table authority rename column list_number to revocation_list_number;
alter table authority rename column list_until to revocation_list_expires_at;
alter table listener rename column tunnels to tunnel_networks;

create or replace function staff_revocations(authority_name text) returns bytea
language sql stable security definer set search_path = public, pg_temp as $$
    select revocation_list from authority where name = authority_name
$$;
