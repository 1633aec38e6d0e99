-- An operator who is gone: the journal keeps the name, and the name can be given again.
alter table operator add column archived_at timestamptz;
alter table operator drop constraint operator_name_key;
create unique index operator_name on operator (name) where archived_at is null;
