-- People who left and devices that were lost, and whether a trial has shown for each of their profiles that it is refused.
create table departure (
    id uuid primary key,
    kind text not null check (kind in ('left', 'lost')),
    person_id uuid not null references person (id),
    device_id uuid references device (id),
    ordered_by text not null,
    ordered_at timestamptz not null,
    check ((kind = 'lost') = (device_id is not null))
);
create table refusal (
    departure_id uuid not null references departure (id) on delete cascade,
    profile_id uuid not null references profile (id) on delete cascade,
    state text not null default 'open' check (state in ('open', 'refused', 'not-triable')),
    -- the profile that was let in at the same listener in the same minute
    control text,
    found text,
    checked_at timestamptz,
    ended_at timestamptz,
    primary key (departure_id, profile_id)
);
create index refusal_profile on refusal (profile_id);
create index refusal_open on refusal (checked_at) where state = 'open';
