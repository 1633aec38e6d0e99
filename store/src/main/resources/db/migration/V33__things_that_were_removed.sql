-- What was removed keeps its history; its name is free for another.
alter table person add column archived_at timestamptz;
alter table person drop constraint person_handle_key;
create unique index person_handle on person (handle) where archived_at is null;
alter table device add column archived_at timestamptz;
alter table device drop constraint device_person_id_name_key;
create unique index device_name on device (person_id, name) where archived_at is null;
alter table site add column archived_at timestamptz;
alter table site drop constraint site_name_key;
create unique index site_name on site (name) where archived_at is null;
alter table gateway add column archived_at timestamptz;
alter table gateway drop constraint gateway_name_key;
create unique index gateway_name on gateway (name) where archived_at is null;
