-- Changes that somebody has to make by hand at a gateway, and who was asked to do what is to be done by hand there.
alter table device_change drop constraint device_change_state_check;
alter table device_change
    add constraint device_change_state_check
        check (state in ('ordered', 'writing', 'active', 'kept', 'failed', 'rolled-back', 'by-hand', 'cancelled'));
create table hand_change (
    change_id uuid primary key references device_change (id) on delete cascade,
    before jsonb not null,
    wanted jsonb not null,
    why text not null,
    asked_of text,
    sent_at timestamptz,
    entered_at timestamptz,
    claimed_by text,
    claimed_at timestamptz,
    found text
);
alter table instruction add column asked_of text;
alter table instruction add column sent_at timestamptz;
alter table file_request add column asked_of text;
alter table file_request add column sent_at timestamptz;
alter table gateway add column contact text not null default '';
-- An account with a password that Tender made is made by hand.
alter table instruction drop constraint instruction_kind_check;
alter table instruction
    add constraint instruction_kind_check
        check (kind in ('admit-peer', 'admit-account', 'close-peer', 'close-account', 'close-certificate', 'upload-list'));
