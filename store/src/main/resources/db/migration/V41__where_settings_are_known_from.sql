-- How a listener of a gateway managed by hand is set, as each source has it.
create table setting_source (
    listener_id uuid not null references listener on delete cascade,
    setting text not null,
    source text not null check (source in ('files', 'entered', 'trial')),
    value text not null,
    said_at timestamptz not null,
    primary key (listener_id, setting, source)
);
