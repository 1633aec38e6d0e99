-- Rotations of the master key. wrapped is the new key under the one before, for nodes to take over while the rotation goes on.
create table key_rotation (
    id uuid primary key,
    key_id text not null,
    wrapped bytea,
    ordered_by text not null,
    started_at timestamptz not null,
    ended_at timestamptz
);
create unique index key_rotation_one on key_rotation ((true)) where ended_at is null;

-- Ids of the master keys that a node has at hand.
alter table node add column keys text[] not null default '{}';
