-- An account at a gateway by which a profile's holder signs in, alone or beside a certificate. Until now its name stood, after
-- "name:", where keys stand, and the password of one beside a certificate where preshared keys stand.
create table account (
    id uuid primary key,
    name text not null,
    -- its password, where Tender has it
    credential_id uuid not null references credential deferrable initially immediate
);
create index account_credential on account (credential_id);
alter table profile_listener add column account_id uuid references account deferrable initially immediate;
create index profile_listener_account on profile_listener (account_id) where account_id is not null;

insert into account (id, name, credential_id)
select gen_random_uuid(), substr(k.public_part, length('name:') + 1), k.id
from profile_listener pl join credential k on k.id = pl.key_id where k.kind = 'PASSWORD';
insert into account (id, name, credential_id)
select gen_random_uuid(), substr(k.public_part, length('name:') + 1), s.id
from profile_listener pl
join credential k on k.id = pl.key_id
join credential s on s.id = pl.preshared_id
where s.kind = 'PASSWORD';
update profile_listener pl set account_id = a.id from account a where a.credential_id = pl.key_id;
update profile_listener pl set account_id = a.id, preshared_id = null from account a where a.credential_id = pl.preshared_id;

update credential set public_part = substr(public_part, length('name:') + 1) where public_part like 'name:%';
update session set public_key = substr(public_key, length('name:') + 1) where public_key like 'name:%';
