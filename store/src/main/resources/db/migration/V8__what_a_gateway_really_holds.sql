-- What was there right after a change, so that taking it back leaves everything else as it is.
alter table device_change add column after_backup_id uuid references backup deferrable initially immediate;

-- Keys of peers in the device's file when it was last read, and revoked serials that the list there did not name.
alter table listener
    add column peer_keys text[] not null default '{}',
    add column missing_serials text[] not null default '{}';

-- Certificates that were revoked before the authority was imported, or at a gateway and not through Tender.
create table revocation (
    authority_id uuid not null references authority deferrable initially immediate,
    serial text not null,
    revoked_at timestamptz not null,
    reason integer not null,
    learned_from text not null,
    primary key (authority_id, serial)
);

-- waiting: somebody has to admit it at the gateway by hand; closing: somebody has to close it there by hand.
alter table profile drop constraint profile_state_check;
alter table profile add constraint profile_state_check
    check (state in ('writing', 'waiting', 'ready', 'failed', 'withdrawing', 'closing', 'withdrawn'));

-- What somebody has to do by hand at a gateway for a profile, because Tender cannot; gone once a reading or a trial shows it done.
create table instruction (
    profile_id uuid primary key references profile deferrable initially immediate,
    kind text not null check (kind in ('admit-peer', 'close-peer', 'close-account', 'close-certificate', 'upload-list')),
    -- the account's name, the certificate's serial, the peer's public key
    what text not null,
    asked_at timestamptz not null
);
