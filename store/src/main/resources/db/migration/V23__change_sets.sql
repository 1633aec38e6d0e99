-- Changes of several gateways that are made together: all of them, or none.
create table change_set (
    id uuid primary key,
    state text not null check (state in ('ordered', 'writing', 'keeping', 'kept', 'failed')),
    note text not null default '',
    ordered_by text not null,
    ordered_at timestamptz not null,
    ended_at timestamptz
);
create index change_set_unfinished on change_set (ordered_at) where ended_at is null;

alter table device_change add column set_id uuid references change_set (id);
create index device_change_set on device_change (set_id) where set_id is not null;
