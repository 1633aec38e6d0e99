-- Provisioning files, the devices that joined with them, and what waits for each, sealed to its own key.
alter table installation add column signer_key bytea;

create table provision (
    id uuid primary key,
    token_digest text not null unique,
    person_id uuid references person (id),
    device_id uuid references device (id),
    team_id uuid references team (id) on delete cascade,
    created_by text not null,
    created_at timestamptz not null,
    ends_at timestamptz not null,
    withdrawn_at timestamptz,
    check ((device_id is null) = (person_id is null)),
    check ((device_id is null) <> (team_id is null))
);
-- Codes that people are told another way; where there is none, the token alone lets in.
create table provision_code (
    provision_id uuid not null references provision (id) on delete cascade,
    person_id uuid not null references person (id),
    hash text not null,
    primary key (provision_id, person_id)
);
create table provision_listener (
    provision_id uuid not null references provision (id) on delete cascade,
    position integer not null,
    listener_id uuid not null references listener (id) on delete cascade,
    primary key (provision_id, position)
);
create index provision_listener_listener on provision_listener (listener_id);
create index provision_device on provision (device_id);

create table enrolment (
    id uuid primary key,
    provision_id uuid references provision (id) on delete set null,
    person_id uuid not null references person (id),
    device_id uuid references device (id),
    device_name text not null,
    system text not null,
    signing_key bytea not null unique,
    sealing_key bytea not null,
    joined_at timestamptz not null,
    seen_at timestamptz not null,
    -- of what waits for it; another one means that something changed
    etag text not null default '',
    state text not null default 'joining' check (state in ('joining', 'joined', 'failed', 'left', 'ended')),
    problem text,
    left_journaled boolean not null default false,
    unique (provision_id, person_id)
);
create unique index enrolment_device on enrolment (device_id) where state in ('joining', 'joined');
create index enrolment_left on enrolment (id) where state = 'left' and not left_journaled;
create index enrolment_joining on enrolment (joined_at) where state = 'joining';

create table delivery (
    enrolment_id uuid not null references enrolment (id) on delete cascade,
    profile_id uuid not null references profile (id) on delete cascade,
    revision integer not null,
    position integer not null,
    sealed bytea not null,
    made_at timestamptz not null,
    -- what the device says
    held_revision integer,
    held_at timestamptz,
    proven boolean,
    found text,
    found_at timestamptz,
    primary key (enrolment_id, profile_id)
);
create index delivery_profile on delivery (profile_id);
-- What a device holds is handed out, and what it connects with works.
create trigger standing after insert or update of held_revision, proven on delivery for each row execute function profile_is_due();

-- All that the listener for devices may ask of the database, as the staff's page.
create function staff_provision(digest text)
returns table (id uuid, person_id uuid, device_id uuid, device_name text, team_id uuid, ends_at timestamptz, withdrawn boolean)
language sql stable security definer set search_path = public, pg_temp as $$
    select p.id, p.person_id, p.device_id, d.name, p.team_id, p.ends_at, p.withdrawn_at is not null
    from provision p left join device d on d.id = p.device_id
    where p.token_digest = digest
$$;

create function staff_provision_person(file uuid, handle text)
returns table (person_id uuid, hash text)
language sql stable security definer set search_path = public, pg_temp as $$
    select n.id, c.hash
    from provision p
    join person n on n.archived_at is null
        and (n.id = p.person_id or (p.team_id is not null and n.team_id = p.team_id and n.handle = staff_provision_person.handle))
    left join provision_code c on c.provision_id = p.id and c.person_id = n.id
    where p.id = file
$$;

-- Gives the enrolment of this key; nothing where the file was used by another one.
create function staff_enrol(which uuid, file uuid, who uuid, device uuid, called text, system text, signing bytea, sealing bytea, at timestamptz)
returns uuid
language plpgsql security definer set search_path = public, pg_temp as $$
declare
    found_id uuid;
begin
    -- a device that joins anew takes the place of what it was before
    update enrolment e set state = 'ended', etag = 'ended'
    where e.device_id = device and e.state in ('joining', 'joined') and e.signing_key <> signing
      and not exists (select 1 from enrolment o where o.provision_id = file and o.person_id = who);
    insert into enrolment (id, provision_id, person_id, device_id, device_name, system, signing_key, sealing_key, joined_at, seen_at)
    values (which, file, who, device, called, staff_enrol.system, signing, sealing, at, at)
    on conflict (provision_id, person_id) do nothing;
    select e.id into found_id from enrolment e
    where e.provision_id = file and e.person_id = who and e.signing_key = signing;
    return found_id;
end
$$;

create function staff_device(which uuid)
returns table (signing_key bytea, state text, etag text, seen_at timestamptz, problem text)
language sql stable security definer set search_path = public, pg_temp as $$
    select e.signing_key, e.state, e.etag, e.seen_at, e.problem from enrolment e where e.id = which
$$;

create function staff_device_seen(which uuid, at timestamptz) returns void
language sql security definer set search_path = public, pg_temp as $$
    update enrolment set seen_at = at where id = which
$$;

create function staff_deliveries(which uuid)
returns table (profile_id uuid, revision integer, "position" integer, sealed bytea)
language sql stable security definer set search_path = public, pg_temp as $$
    select d.profile_id, d.revision, d.position, d.sealed
    from delivery d join enrolment e on e.id = d.enrolment_id and e.state = 'joined'
    where d.enrolment_id = which order by d.position, d.profile_id
$$;

create function staff_device_report(which uuid, profile uuid, held integer, works boolean, words text, at timestamptz) returns void
language sql security definer set search_path = public, pg_temp as $$
    update delivery d
    set held_at = case when d.held_revision is distinct from held then at else d.held_at end,
        held_revision = held,
        proven = coalesce(works, case when d.held_revision is not distinct from held then d.proven end),
        found = case when works is null then d.found else words end,
        found_at = case when works is null then d.found_at else at end
    where d.enrolment_id = which and d.profile_id = profile
$$;

create function staff_device_left(which uuid) returns void
language sql security definer set search_path = public, pg_temp as $$
    update enrolment set state = 'left', etag = 'left' where id = which and state in ('joining', 'joined', 'failed')
$$;
revoke execute on function staff_provision, staff_provision_person, staff_enrol, staff_device, staff_device_seen, staff_deliveries,
    staff_device_report, staff_device_left from public;
