-- What a trial was to measure, and what it measured beyond its verdict.
alter table trial add column wanted jsonb, add column measured jsonb;

-- Listeners that are tried on a schedule, and how they stand.
create table round (
    listener_id uuid primary key references listener on delete cascade,
    every_seconds integer not null check (every_seconds between 60 and 86400),
    -- no word is sent between these times of the day (UTC)
    quiet_from time,
    quiet_to time,
    proven boolean,
    since timestamptz,
    rung text,
    cause text,
    trial_id uuid references trial on delete set null,
    next_at timestamptz not null,
    check ((quiet_from is null) = (quiet_to is null))
);

create table round_result (
    listener_id uuid not null references listener on delete cascade,
    at timestamptz not null,
    proven boolean not null,
    -- round trip through the tunnel, and how long the whole trial took
    echo_millis double precision,
    millis integer not null,
    rung text,
    primary key (listener_id, at)
);

-- A machine left standing outside signs in with a role of its own.
alter table operator drop constraint operator_role_check;
alter table operator add constraint operator_role_check check (role in ('owner', 'operator', 'auditor', 'staff', 'vantage'));
alter table vantage add column heard_at timestamptz;
create index profile_revision_digest on profile_revision (digest);
