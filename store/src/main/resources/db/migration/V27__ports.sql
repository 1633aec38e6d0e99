-- A transport with its port is a port, in what findings are called and in changes.
delete from finding;
update accepted_finding
set key = replace(replace(key, 'doors-disagree', 'ports-disagree'), 'door-', 'port-')
where key like '%door%';
update device_change
set changes = replace(changes::text, '"door":', '"port":')::jsonb
where changes::text like '%"door":%';
