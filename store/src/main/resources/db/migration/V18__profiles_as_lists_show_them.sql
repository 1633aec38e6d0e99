-- What lists of profiles filter by and what the overview counts: one narrow row for each profile that is not a canary, worked
-- out again from the tables that say it, for the profiles that are due. Whoever reads brings it up to date before.
create table profile_standing (
    profile_id uuid primary key references profile on delete cascade deferrable initially immediate,
    label text not null,
    state text not null,
    listener_id uuid not null,
    gateway_id uuid not null,
    person_id uuid,
    team_id uuid,
    -- its newest revision is handed out and not withdrawn
    handed_out boolean not null,
    -- handouts of any revision that are not withdrawn
    handouts integer not null,
    -- bytes went both ways with the newest revision; null where no session was seen
    both_ways boolean,
    -- what the newest revision's last trial showed; null where there is none
    works boolean
);
create unique index profile_standing_label on profile_standing (label);
create index profile_standing_gateway on profile_standing (gateway_id, label);
create index profile_standing_person on profile_standing (person_id, label);
create index profile_standing_team on profile_standing (team_id, label);
create index profile_standing_state on profile_standing (state, label);
create index profile_standing_never_seen on profile_standing (label)
    where state = 'ready' and handed_out and both_ways is null;
create index profile_standing_not_handed_out on profile_standing (label) where state = 'ready' and not handed_out;
create index profile_standing_failing on profile_standing (label) where state = 'ready' and works = false;
create index profile_standing_unproven on profile_standing (label)
    where state = 'ready' and works is not true and both_ways is not true;

-- How many rows say the same, so that the overview counts nothing. Only whoever works out the rows writes them, one at a time.
create table profile_standing_count (
    state text not null,
    handed_out boolean not null,
    -- yes, no, or unknown where null
    both_ways text not null,
    works text not null,
    profiles bigint not null,
    handouts bigint not null,
    primary key (state, handed_out, both_ways, works)
);
create function word_of(value boolean) returns text language sql immutable as $$
    select case when value then 'yes' when not value then 'no' else 'unknown' end
$$;
create function count_standings() returns trigger language plpgsql as $$
begin
    if tg_op <> 'INSERT' then
        insert into profile_standing_count
        select state, handed_out, word_of(both_ways), word_of(works), -count(*), -sum(handouts)
        from gone group by 1, 2, 3, 4
        on conflict (state, handed_out, both_ways, works) do update
        set profiles = profile_standing_count.profiles + excluded.profiles,
            handouts = profile_standing_count.handouts + excluded.handouts;
    end if;
    if tg_op <> 'DELETE' then
        insert into profile_standing_count
        select state, handed_out, word_of(both_ways), word_of(works), count(*), sum(handouts)
        from come group by 1, 2, 3, 4
        on conflict (state, handed_out, both_ways, works) do update
        set profiles = profile_standing_count.profiles + excluded.profiles,
            handouts = profile_standing_count.handouts + excluded.handouts;
    end if;
    return null;
end $$;
create trigger counted_in after insert on profile_standing
    referencing new table as come for each statement execute function count_standings();
create trigger counted_anew after update on profile_standing
    referencing old table as gone new table as come for each statement execute function count_standings();
create trigger counted_out after delete on profile_standing
    referencing old table as gone for each statement execute function count_standings();

-- Profiles whose row is to be worked out again; the same may stand here several times. Only ever added to by writers, so that
-- none waits for another.
create table profile_standing_due (profile_id uuid not null);

create function profile_is_due() returns trigger language plpgsql as $$
begin
    if new.profile_id is not null then
        insert into profile_standing_due values (new.profile_id);
    end if;
    return null;
end $$;
create function profile_itself_is_due() returns trigger language plpgsql as $$
begin
    insert into profile_standing_due values (new.id);
    return null;
end $$;
create function profile_of_handout_is_due() returns trigger language plpgsql as $$
begin
    insert into profile_standing_due select profile_id from handout where id = new.handout_id;
    return null;
end $$;
create function profiles_of_person_are_due() returns trigger language plpgsql as $$
begin
    insert into profile_standing_due
    select p.id from profile p join device d on d.id = p.device_id where d.person_id = new.id;
    return null;
end $$;
-- A session of a profile that is known to work in both directions says nothing new.
create function profile_of_session_is_due() returns trigger language plpgsql as $$
begin
    if old.profile_id is distinct from new.profile_id then
        insert into profile_standing_due select id from unnest(array[old.profile_id, new.profile_id]) as id where id is not null;
    elsif not exists (select 1 from profile_standing where profile_id = new.profile_id and both_ways) then
        insert into profile_standing_due values (new.profile_id);
    end if;
    return null;
end $$;

create trigger standing after insert on profile for each row execute function profile_itself_is_due();
create trigger standing_moved after update on profile for each row
    when (old.state is distinct from new.state or old.label is distinct from new.label
          or old.device_id is distinct from new.device_id)
    execute function profile_itself_is_due();
create trigger standing after insert or update of listener_id on profile_listener for each row execute function profile_is_due();
create trigger standing after insert on profile_revision for each row execute function profile_is_due();
create trigger standing after insert or update of withdrawn_at, revision_id on handout
    for each row execute function profile_is_due();
create trigger standing after insert on collection for each row execute function profile_of_handout_is_due();
create trigger standing after insert on trial for each row when (new.profile_works is not null)
    execute function profile_is_due();
create trigger standing_ended after update on trial for each row
    when (old.profile_works is distinct from new.profile_works) execute function profile_is_due();
create trigger standing after insert on session for each row when (new.profile_id is not null)
    execute function profile_is_due();
create trigger standing_heard after update on session for each row
    when (old.profile_id is distinct from new.profile_id
          or new.profile_id is not null
             and (old.last_heard < new.last_heard or old.received <> new.received or old.sent <> new.sent))
    execute function profile_of_session_is_due();
create trigger standing after update of team_id on person for each row
    when (old.team_id is distinct from new.team_id) execute function profiles_of_person_are_due();

insert into profile_standing_due select id from profile where origin <> 'canary';

-- Handouts that nobody collected yet, counted by the overview.
create index handout_waiting on handout (expires_at) where withdrawn_at is null and collections_left = collections_allowed;

-- Search by any part of a name.
create extension if not exists pg_trgm;
create index profile_standing_text on profile_standing using gin (label gin_trgm_ops) with (fastupdate = off);
create index person_name_text on person using gin (name gin_trgm_ops) with (fastupdate = off);
create index person_handle_text on person using gin (handle gin_trgm_ops) with (fastupdate = off);
create index person_mail_text on person using gin (mail gin_trgm_ops) with (fastupdate = off);
