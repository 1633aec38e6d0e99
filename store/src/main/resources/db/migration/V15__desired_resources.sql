-- What should be in force at a gateway: one row for each thing. A row is due while its observed generation is behind.
create table desired_resource (
    gateway_id uuid not null references gateway deferrable initially immediate,
    kind text not null check (kind in ('peer', 'account', 'revocation-lists')),
    key text not null,
    listener_id uuid references listener deferrable initially immediate,
    profile_id uuid references profile deferrable initially immediate,
    presence text not null check (presence in ('present', 'suspended', 'absent')),
    generation bigint not null default 1,
    observed_generation bigint not null default 0,
    state text not null check (state in ('pending', 'in-force', 'failed')),
    problem text,
    changed_at timestamptz not null,
    primary key (gateway_id, kind, key)
);
create index desired_resource_due on desired_resource (gateway_id) where observed_generation < generation;
create index desired_resource_profile on desired_resource (profile_id);

-- Peers and accounts of profiles that are ready are in force already.
insert into desired_resource (gateway_id, kind, key, listener_id, profile_id, presence, observed_generation, state, changed_at)
select l.gateway_id, 'peer', l.id || '/' || p.id, l.id, p.id, 'present', 1, 'in-force', p.created_at
from profile p
join profile_listener pl on pl.profile_id = p.id
join listener l on l.id = pl.listener_id
join credential k on k.id = pl.key_id
where p.state = 'ready' and k.kind = 'TUNNEL_KEY_PAIR' and k.life <> 'EXPIRED';

-- What was wanted and not yet confirmed is due; of several wishes for one peer the last counts.
insert into desired_resource (gateway_id, kind, key, listener_id, profile_id, presence, state, changed_at)
select distinct on (c.listener_id, c.profile_id) c.gateway_id, 'peer', c.listener_id || '/' || c.profile_id, c.listener_id,
       c.profile_id,
       case c.kind when 'add-peer' then 'present' when 'suspend-peer' then 'suspended' else 'absent' end, 'pending', c.created_at
from gateway_change c
where c.state = 'wanted'
order by c.listener_id, c.profile_id, c.id desc
on conflict (gateway_id, kind, key) do update
set presence = excluded.presence, generation = desired_resource.generation + 1, state = 'pending', changed_at = excluded.changed_at;

insert into desired_resource (gateway_id, kind, key, profile_id, presence, observed_generation, state, changed_at)
select l.gateway_id, 'account', p.id::text, p.id,
       case when p.state in ('withdrawing') then 'absent' else 'present' end,
       case when p.state = 'ready' then 1 else 0 end,
       case when p.state = 'ready' then 'in-force' else 'pending' end, p.created_at
from profile p
join profile_listener pl on pl.profile_id = p.id
join listener l on l.id = pl.listener_id
join credential k on k.id = pl.key_id
left join credential s on s.id = pl.preshared_id
where p.state in ('writing', 'ready', 'withdrawing')
  and (k.kind = 'PASSWORD' and k.custody in ('HELD', 'ERASED') or s.kind = 'PASSWORD');

insert into desired_resource (gateway_id, kind, key, presence, state, changed_at)
select distinct l.gateway_id, 'revocation-lists', '', 'present', 'pending', now()
from profile p
join profile_listener pl on pl.profile_id = p.id
join listener l on l.id = pl.listener_id
join certificate c on c.profile_id = p.id
where p.state = 'withdrawing';

drop table gateway_change;
delete from job where state in ('waiting', 'running') and kind in ('gateway-change', 'account-delivery', 'list-delivery', 'gateway-sync');

-- How somebody wants a temporary change to end before its time; carried out by the gateway's own job.
alter table device_change add column wanted_end text check (wanted_end in ('keep', 'return'));

-- The code of the problem that a job's last attempt ended with.
alter table job add column problem text;
