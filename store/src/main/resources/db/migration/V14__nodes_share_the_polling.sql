-- Nodes of one database, and which share of the gateways each of them asks who is connected.
create table node (
    name text primary key,
    heard_at timestamptz not null
);
create table poll_share (
    share smallint primary key,
    node text references node deferrable initially immediate,
    lease_until timestamptz
);
insert into poll_share (share) select generate_series(0, 63);
delete from job where kind = 'watch';

-- A job that ends asks whether others waited for it.
create index job_waiting_serial on job (serial_key) where state = 'waiting';
