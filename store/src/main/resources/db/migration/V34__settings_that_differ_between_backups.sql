-- What differs from the backup before in the gateway's own terms; nothing was compared for those of before.
alter table backup add column settings jsonb not null default '[]';
