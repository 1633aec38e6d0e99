-- A peer whose credential has ended leaves the gateway while its profile stays, to be renewed.
alter table gateway_change drop constraint gateway_change_kind_check;
alter table gateway_change add constraint gateway_change_kind_check check (kind in ('add-peer', 'remove-peer', 'suspend-peer'));

-- Certificate authorities. The list of revoked certificates is kept as it was signed last.
create table authority (
    id uuid primary key,
    name text not null unique,
    certificate bytea not null,
    sealed_key bytea not null,
    key_kind text not null,
    ends_at timestamptz not null,
    publishes_at text,
    list bytea not null,
    list_number bigint not null,
    list_until timestamptz not null,
    made_at timestamptz not null
);

-- Certificates that they signed. A key is kept sealed while it is held, and never for those made on a device.
create table certificate (
    id uuid primary key,
    authority_id uuid not null references authority,
    serial text not null,
    purpose text not null check (purpose in ('server', 'client')),
    common_name text not null,
    names text[] not null,
    certificate bytea not null,
    sealed_key bytea,
    custody text not null,
    device_id uuid references device,
    profile_id uuid references profile,
    gateway_id uuid references gateway,
    starts_at timestamptz not null,
    ends_at timestamptz not null,
    revoked_at timestamptz,
    revoked_reason integer,
    made_at timestamptz not null,
    unique (authority_id, serial)
);
create index certificate_revoked on certificate (authority_id) where revoked_at is not null;
create index certificate_profile on certificate (profile_id) where profile_id is not null;

-- Client files as a gateway gave them, byte for byte.
create table gathered_archive (
    id uuid primary key,
    gateway_id uuid not null references gateway,
    name text not null,
    digest text not null,
    content bytea not null,
    gathered_by text not null,
    gathered_at timestamptz not null,
    unique (gateway_id, digest)
);
