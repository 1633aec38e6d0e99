-- What a team gets at a listener where it differs from everyone else: a rule, so that its profiles follow it.
create table variant (
    id uuid primary key,
    listener_id uuid not null references listener on delete cascade deferrable initially immediate,
    team_id uuid not null references team on delete cascade deferrable initially immediate,
    full_tunnel boolean not null,
    -- empty: as everyone
    reach cidr[] not null,
    dns inet[] not null,
    life_days integer check (life_days between 1 and 3650),
    set_at timestamptz not null,
    unique (listener_id, team_id)
);

-- Whether reach and name servers were said for this profile alone, so that no rule changes them.
alter table profile_listener add column said boolean not null default true; -- of those there are, nobody knows
alter table profile_listener alter column said set default false;

-- Whether somebody said when its access ends, so that nothing is renewed beyond that.
alter table profile_listener add column end_said boolean not null default true;
alter table profile_listener alter column end_said set default false;
