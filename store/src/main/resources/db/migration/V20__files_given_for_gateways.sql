-- Files that people give for gateways that nobody can reach, encrypted; every node reads them.
create table given_file (
    id uuid primary key,
    gateway_id uuid not null references gateway on delete cascade deferrable initially immediate,
    path text not null,
    content bytea not null,
    -- when they were copied at the device; the same for all files of a gateway
    taken_at timestamptz not null,
    unique (gateway_id, path)
);
