-- What a team gets at a listener is a grant.
alter table variant rename to listener_grant;
alter index variant_pkey rename to listener_grant_pkey;
alter table listener_grant rename column life_days to valid_days;
alter table profile_listener rename column said to explicit;
alter table profile_listener rename column end_said to expiry_explicit;
alter table attempt rename to failed_attempt;
alter index attempt_id rename to failed_attempt_id;
alter table gathered_archive rename to imported_archive;
alter index gathered_archive_pkey rename to imported_archive_pkey;
alter table imported_archive rename column gathered_by to imported_by;
alter table device_change rename column retires to remove_when_unused;
alter table device_change rename column retire_at to remove_at;
delete from job where kind = 'retiring';

-- Settings and kinds of change have the trade's words in the documents that name them.
delete from finding;
update device_change set changes = replace(replace(replace(changes::text,
        '"change": "add-beside"', '"change": "add-listener"'),
        '"change": "retire"', '"change": "remove-listener"'),
        '"change": "take-up"', '"change": "reload"')::jsonb;
create function pg_temp.settings(document jsonb) returns jsonb language sql immutable as $$
    select replace(replace(replace(replace(replace(replace(document::text, '"fixed":', '"reserved":'),
        '"tunnels":', '"tunnel-network":'), '"wrapping":', '"control-channel-key":'), '"in-force":', '"active":'),
        '"certificate-ends":', '"certificate-expires":'), '"revocation-ends":', '"revocation-list-expires":')::jsonb
$$;
update device_change set changes = pg_temp.settings(changes);
update gateway set device = pg_temp.settings(device) where device is not null;
update backup set differences = pg_temp.settings(differences) where differences is not null;
update profile_revision set made_for = pg_temp.settings(made_for) where made_for is not null;
update drift set field = case field
    when 'tunnels' then 'tunnel-network' when 'wrapping' then 'control-channel-key' when 'in-force' then 'active'
    when 'certificate-ends' then 'certificate-expires' when 'revocation-ends' then 'revocation-list-expires'
    else field end;

-- States: a listener or a wanted thing is active, a rung is ok.
alter table listener rename column in_force to active;
alter table desired_resource drop constraint desired_resource_state_check;
update desired_resource set state = 'active' where state = 'in-force';
alter table desired_resource add constraint desired_resource_state_check check (state in ('pending', 'active', 'failed'));
update trial_rung set verdict = 'OK' where verdict = 'HOLDS';
alter table credential rename column life to state;
alter table credential rename column made_at to created_at;
update credential set state = 'CREATED' where state = 'MADE';
