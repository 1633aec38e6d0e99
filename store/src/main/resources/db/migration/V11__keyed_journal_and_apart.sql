-- Entries are chained by a keyed digest from this number on; the anchor binds what stood before it to the same key.
alter table installation
    add column journal_key bytea,
    add column journal_keyed_from bigint,
    add column journal_anchor text;

-- What strangers tried at the staff's page, until the journal has it: the page itself cannot write there.
create table stranger_try (
    id bigserial primary key,
    at timestamptz not null,
    handout_id uuid,
    stopped boolean not null,
    source text not null
);
alter table collection add column journaled boolean not null default true; -- those of before stand in the journal
alter table collection alter column journaled set default false;
create index collection_to_journal on collection (at) where not journaled;

-- All that the staff's page may ask of the database. It runs as the functions' owner, so that the page's own role needs no table.
create function staff_pickup(digest text, at timestamptz)
returns table (handout_id uuid, salt bytea, parcel bytea)
language sql stable security definer set search_path = public, pg_temp as $$
    select h.id, h.salt, h.parcel from handout h
    where h.token_digest = digest and h.withdrawn_at is null and h.expires_at > at
      and h.collections_left > 0 and h.parcel is not null
$$;

create function staff_collect(handout uuid, digest text, source text, at timestamptz) returns boolean
language plpgsql security definer set search_path = public, pg_temp as $$
begin
    update handout h
    set collections_left = h.collections_left - 1, sent_at = coalesce(h.sent_at, at), version = h.version + 1,
        parcel = case when h.collections_left > 1 then h.parcel end,
        salt = case when h.collections_left > 1 then h.salt end
    where h.id = handout and h.token_digest = digest and h.collections_left > 0 and h.withdrawn_at is null and h.expires_at > at;
    if not found then
        return false;
    end if;
    insert into collection (handout_id, at, source) values (handout, staff_collect.at, staff_collect.source);
    return true;
end
$$;

create function staff_tried(handout uuid, stopped boolean, source text, at timestamptz) returns void
language sql security definer set search_path = public, pg_temp as $$
    insert into stranger_try (at, handout_id, stopped, source) values (at, handout, stopped, source)
$$;

create function staff_revocations(authority_name text) returns bytea
language sql stable security definer set search_path = public, pg_temp as $$
    select list from authority where name = authority_name
$$;

-- Partitions are made by their owner; whoever runs the service asks for them.
create function session_month(partition text, first timestamptz, next timestamptz) returns void
language plpgsql security definer set search_path = public, pg_temp as $$
begin
    if partition !~ '^session_[0-9]{4}_[0-9]{2}$' then
        raise exception 'no name of a month';
    end if;
    execute format('create table if not exists %I partition of session for values from (%L) to (%L)', partition, first, next);
end
$$;
revoke execute on function staff_pickup, staff_collect, staff_tried, staff_revocations, session_month from public;
