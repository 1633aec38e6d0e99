-- A listener that only its own clients go through is tried without a profile.
alter table trial
    alter column profile_id drop not null,
    alter column tried_profile_id drop not null,
    add column listener_id uuid references listener on delete cascade deferrable initially immediate,
    add constraint trial_of_something check (profile_id is not null or listener_id is not null);
create index trial_listener on trial (listener_id, created_at desc);
