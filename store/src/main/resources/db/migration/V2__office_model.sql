-- What a gateway said of itself when last read, as one document; and what operators say of it beside.
alter table gateway
    add column description text not null default 'plain-router',
    add column read_only boolean not null default false,
    add column factory text not null default 'not-asked' check (factory in ('not-asked', 'changed', 'still-work')),
    add column uplinks jsonb not null default '[]',
    add column hosts text[] not null default '{}',
    add column device jsonb;
update gateway set hosts = array[endpoint_host] where endpoint_host is not null;
alter table gateway drop column endpoint_host;

-- A listener that the device no longer has stays for those who hold its files.
alter table listener add column gone boolean not null default false;

-- Two gateways joined as one network; one below other, so that a pair stands once.
create table joined (
    one uuid not null references gateway,
    other uuid not null references gateway,
    primary key (one, other),
    check (one < other)
);

-- Where names led when last asked.
create table name_lookup (
    name text primary key,
    addresses inet[] not null,
    at timestamptz not null
);

-- A difference that was made at the device and not through Tender.
create table drift (
    id uuid primary key,
    gateway_id uuid not null references gateway,
    seen_at timestamptz not null,
    before_at timestamptz,
    field text not null,
    was text not null,
    becomes text not null,
    noted_at timestamptz,
    noted_by text
);
create index drift_open on drift (gateway_id) where noted_at is null;

create table accepted_finding (
    key text primary key,
    reason text not null,
    until timestamptz not null,
    accepted_by text not null,
    accepted_at timestamptz not null
);

-- A change of a device's settings, from when it is ordered until it is confirmed, failed or returned.
create table device_change (
    id uuid primary key,
    gateway_id uuid not null references gateway,
    state text not null check (state in ('ordered', 'writing', 'in-force', 'kept', 'failed', 'returned')),
    changes jsonb not null,
    words text not null,
    note text not null default '',
    backup_id uuid references backup,
    guard_seconds integer,
    return_at timestamptz,
    armed_on_device boolean not null default false,
    retires text,
    retire_at timestamptz,
    ordered_by text not null,
    ordered_at timestamptz not null,
    ended_at timestamptz
);
create index device_change_gateway on device_change (gateway_id, ordered_at desc);
create index device_change_open on device_change (gateway_id) where ended_at is null;

-- Device descriptions beside those that ship; one counts only while the approved digest is the text's own.
create table device_description (
    name text primary key,
    content bytea not null,
    digest text not null,
    approved_digest text,
    approved_by text,
    changed_at timestamptz not null
);
