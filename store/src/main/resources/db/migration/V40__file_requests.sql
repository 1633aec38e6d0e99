-- Client files that somebody has to make at a gateway; what was received, or is wanted no more, leaves.
create table file_request (
    id uuid primary key,
    gateway_id uuid not null references gateway,
    device_id uuid not null references device,
    reason text not null check (reason in ('new', 'renewal')),
    asked_by text not null,
    asked_at timestamptz not null,
    unique (gateway_id, device_id)
);
create index file_request_device on file_request (device_id);
