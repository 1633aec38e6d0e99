-- Somebody says that it is done; a trial shows whether it is. What the last trial found stays until then.
alter table instruction add column claimed_by text;
alter table instruction add column claimed_at timestamptz;
alter table instruction add column checked_at timestamptz;
alter table instruction add column found text;
