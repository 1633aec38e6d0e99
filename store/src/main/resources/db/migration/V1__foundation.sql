-- One installation; its id is the holder's name in locks on devices, key_check opens with its master key alone.
create table installation (
    id uuid primary key,
    key_check bytea,
    created_at timestamptz not null
);

create table operator (
    id uuid primary key,
    name text not null unique,
    role text not null check (role in ('owner', 'operator', 'auditor', 'staff')),
    password_hash text not null,
    must_change boolean not null,
    totp_secret bytea,
    totp_confirmed boolean not null default false,
    created_at timestamptz not null,
    version integer not null default 1
);

-- A browser's sign-in or a client's token; only the digest is kept.
create table sign_in (
    digest text primary key,
    id uuid not null unique,
    operator_id uuid not null references operator,
    kind text not null check (kind in ('browser', 'client')),
    label text not null,
    created_at timestamptz not null,
    expires_at timestamptz not null,
    fresh_until timestamptz not null
);

create table attempt (
    subject text not null,
    at timestamptz not null
);
create index attempt_subject on attempt (subject, at);

create table routing_domain (
    id uuid primary key,
    name text not null unique
);

create table site (
    id uuid primary key,
    name text not null unique,
    title text not null,
    routing_domain_id uuid not null references routing_domain,
    time_zone text not null,
    version integer not null default 1
);

create table site_network (
    site_id uuid not null references site,
    name text not null,
    network cidr not null,
    primary key (site_id, name)
);

create table team (
    id uuid primary key,
    name text not null unique
);

create table person (
    id uuid primary key,
    handle text not null unique,
    name text not null,
    mail text not null,
    team_id uuid references team,
    operator_id uuid references operator,
    created_at timestamptz not null,
    version integer not null default 1
);

create table device (
    id uuid primary key,
    person_id uuid not null references person,
    name text not null,
    kind text not null,
    system text not null,
    version integer not null default 1,
    unique (person_id, name)
);

create table gateway (
    id uuid primary key,
    site_id uuid not null references site,
    name text not null unique,
    kind text not null check (kind in ('firewall', 'nas', 'router')),
    make text not null default '',
    model text not null default '',
    release text not null default '',
    connector text not null,
    address text not null,
    port integer not null,
    username text not null,
    sign_in_key bytea not null,
    identity text not null,
    identity_accepted boolean not null default false,
    inside_host text,
    endpoint_host text,
    read_at timestamptz,
    read_problem text,
    created_at timestamptz not null,
    version integer not null default 1
);

-- One writer per gateway at a time over all nodes; the fence rises with every writer.
create table gateway_writer (
    gateway_id uuid primary key references gateway,
    fence bigint not null,
    holder text not null,
    until timestamptz not null
);

create table listener (
    id uuid primary key,
    gateway_id uuid not null references gateway,
    name text not null,
    protocol text not null,
    transport text not null,
    port integer not null,
    public_key text not null,
    tunnels cidr[] not null,
    inside_address inet,
    taken inet[] not null default '{}',
    in_force boolean not null,
    version integer not null default 1,
    unique (gateway_id, name)
);

create table endpoint (
    listener_id uuid not null references listener on delete cascade,
    position integer not null,
    host text not null,
    port integer not null,
    transport text not null,
    primary key (listener_id, position)
);

create table credential (
    id uuid primary key,
    device_id uuid references device,
    kind text not null,
    purpose text not null,
    public_part text,
    secret bytea,
    custody text not null,
    life text not null,
    made_at timestamptz not null,
    expires_at timestamptz
);
create index credential_public on credential (public_part);

-- A profile without a device is a listener's canary.
create table profile (
    id uuid primary key,
    device_id uuid references device,
    label text not null unique,
    origin text not null check (origin in ('issued', 'exported', 'imported', 'canary')),
    state text not null check (state in ('writing', 'ready', 'failed', 'withdrawing', 'withdrawn')),
    problem text,
    created_at timestamptz not null,
    version integer not null default 1
);
create index profile_device on profile (device_id);

create table profile_listener (
    profile_id uuid not null references profile,
    position integer not null,
    listener_id uuid not null references listener,
    key_id uuid not null references credential,
    preshared_id uuid references credential,
    reach cidr[] not null,
    full_tunnel boolean not null,
    dns inet[] not null default '{}',
    primary key (profile_id, position)
);
create index profile_listener_listener on profile_listener (listener_id);
create index profile_listener_key on profile_listener (key_id);

create table tunnel_address (
    listener_id uuid not null references listener,
    address inet not null,
    profile_id uuid not null references profile,
    primary key (listener_id, address)
);
create index tunnel_address_profile on tunnel_address (profile_id);

create table profile_revision (
    id uuid primary key,
    profile_id uuid not null references profile,
    number integer not null,
    digest text not null,
    file_name text not null,
    content bytea not null,
    made_for jsonb not null,
    created_at timestamptz not null,
    unique (profile_id, number)
);

create table gateway_change (
    id uuid primary key,
    gateway_id uuid not null references gateway,
    listener_id uuid not null references listener,
    profile_id uuid not null references profile,
    kind text not null check (kind in ('add-peer', 'remove-peer')),
    state text not null check (state in ('wanted', 'confirmed', 'failed')),
    created_at timestamptz not null,
    ended_at timestamptz
);
create index gateway_change_wanted on gateway_change (gateway_id) where state = 'wanted';

create table backup (
    id uuid primary key,
    gateway_id uuid not null references gateway,
    number integer not null,
    reason text not null,
    taken_at timestamptz not null,
    release text not null,
    files integer not null,
    bytes bigint not null,
    digest text not null,
    content bytea not null,
    differences jsonb not null,
    unique (gateway_id, number)
);

create table handout (
    id uuid primary key,
    profile_id uuid not null references profile,
    revision_id uuid not null references profile_revision,
    token_digest text not null unique,
    salt bytea,
    parcel bytea,
    prepared_at timestamptz not null,
    sent_at timestamptz,
    withdrawn_at timestamptz,
    expires_at timestamptz not null,
    collections_allowed integer not null,
    collections_left integer not null,
    version integer not null default 1
);
create index handout_profile on handout (profile_id);

create table collection (
    handout_id uuid not null references handout,
    at timestamptz not null,
    source text not null
);
create index collection_handout on collection (handout_id);

create table vantage (
    id uuid primary key,
    name text not null unique,
    kind text not null check (kind in ('service', 'client', 'standing'))
);

create table trial (
    id uuid primary key,
    profile_id uuid not null references profile,
    tried_profile_id uuid not null references profile,
    revision_id uuid references profile_revision,
    vantage_id uuid not null references vantage,
    claim text not null,
    rests_on text not null,
    state text not null check (state in ('waiting', 'running', 'ended', 'failed')),
    rung text,
    proven boolean,
    note text,
    -- bytes the gateway had received from the tried key when the trial ended
    received_then bigint,
    created_at timestamptz not null,
    ended_at timestamptz
);
create index trial_tried on trial (tried_profile_id, created_at desc);
create index trial_profile on trial (profile_id, created_at desc);

create table trial_rung (
    trial_id uuid not null references trial on delete cascade,
    position integer not null,
    rung text not null,
    verdict text not null,
    millis bigint not null,
    detail text not null,
    causes jsonb not null,
    primary key (trial_id, position)
);

-- Partitioned by month of its start, so that old history is dropped whole.
create table session (
    id uuid not null,
    listener_id uuid not null,
    public_key text not null,
    profile_id uuid,
    endpoint text not null,
    since timestamptz not null,
    last_heard timestamptz not null,
    ended_at timestamptz,
    received bigint not null,
    sent bigint not null,
    primary key (id, since)
) partition by range (since);
create table session_rest partition of session default;
create index session_live on session (listener_id, public_key) where ended_at is null;
create index session_profile on session (profile_id, since desc);

create table job (
    id uuid primary key,
    kind text not null,
    payload text not null,
    serial_key text,
    parent_id uuid references job,
    state text not null check (state in ('waiting', 'running', 'done', 'failed', 'cancelled')),
    run_at timestamptz not null,
    every_millis bigint,
    attempts integer not null default 0,
    max_attempts integer not null,
    node text,
    lease_until timestamptz,
    progress integer not null default 0,
    note text not null default '',
    cancel_wanted boolean not null default false,
    created_at timestamptz not null,
    ended_at timestamptz
);
create index job_due on job (run_at) where state = 'waiting';
create unique index job_serial on job (serial_key) where state = 'running';

create table idempotency (
    operator_id uuid not null,
    key text not null,
    request_digest text not null,
    status integer,
    answer bytea,
    created_at timestamptz not null,
    primary key (operator_id, key)
);

create table journal (
    number bigint primary key,
    at timestamptz not null,
    actor text not null,
    action text not null,
    subject_kind text not null,
    subject_id text not null,
    detail text not null,
    hash text not null
);
create function journal_is_append_only() returns trigger language plpgsql as $$
begin
    raise exception 'the journal is append-only';
end
$$;
create trigger journal_append_only before update or delete on journal
    for each row execute function journal_is_append_only();
