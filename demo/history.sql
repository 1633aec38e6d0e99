-- A month of the company's work, as it would have been recorded: written beside what the demo did just now.
begin;
-- ids rise with time (RFC 9562 section 5.7)
create function pg_temp.id_at(t timestamptz) returns uuid language sql volatile as $$
  select (substr(h, 1, 8) || '-' || substr(h, 9, 4) || '-7' || substr(r, 1, 3) || '-8' || substr(r, 4, 3) || '-' || substr(r, 7, 12))::uuid
  from (select lpad(to_hex((extract(epoch from t) * 1000)::bigint), 12, '0') as h, md5(random()::text) as r) x
$$;
-- the same for the same words, between 0 and 1
create function pg_temp.chance(one text, other text) returns double precision language sql immutable as $$
  select (('x' || substr(md5(one || other), 1, 7))::bit(28)::int) / 268435456.0::double precision
$$;

-- people, gateways and profiles came over a fortnight, a month ago
create temp table began on commit drop as
  select p.id, p.label, date_trunc('day', now()) - interval '30 days' + (row_number() over (order by p.label)) * interval '9 hours' as at
  from profile p where p.origin <> 'canary';
update gateway set created_at = created_at - interval '33 days';
update person set created_at = created_at - interval '33 days';
update profile p set created_at = b.at from began b where b.id = p.id;
update profile_revision r set created_at = b.at from began b where b.id = r.profile_id;

-- handed out on the day after and collected, but for two that wait still
update handout h set prepared_at = b.at + interval '20 hours', sent_at = b.at + interval '20 hours 6 minutes', expires_at = b.at + interval '92 hours'
  from began b where b.id = h.profile_id and b.label not in ('bram-laptop-pier1', 'hale-laptop-orrin-fw');
update collection c set at = h.sent_at + interval '3 hours' from handout h where h.id = c.handout_id;
-- what the others got was made here alone
insert into handout (id, profile_id, revision_id, token_digest, prepared_at, sent_at, expires_at, collections_allowed, collections_left)
select pg_temp.id_at(b.at + interval '20 hours'), b.id, r.id, md5(b.label || random()) || md5(random()::text), b.at + interval '20 hours',
       b.at + interval '20 hours 6 minutes', b.at + interval '92 hours', 1, 1
from began b
cross join lateral (select id from profile_revision v where v.profile_id = b.id order by number desc limit 1) r
where not exists (select 1 from handout h where h.profile_id = b.id) and b.label not in ('dagny-phone-pier3', 'amos-laptop-pier3');
with collected as (
  update handout h set collections_left = 0, parcel = null, salt = null
  where h.sent_at < now() - interval '1 day' and not exists (select 1 from collection c where c.handout_id = h.id)
  returning h.id, h.sent_at)
insert into collection (handout_id, at, source) select id, sent_at + random() * interval '30 hours', '198.51.100.20' from collected;

-- working days: most people connect in the morning and again after lunch
insert into session (id, listener_id, public_key, profile_id, endpoint, since, last_heard, ended_at, received, sent)
select pg_temp.id_at(s.since), pl.listener_id, k.public_part, b.id, '198.51.100.' || (20 + (s.n * 7) % 200) || ':' || (40000 + (s.n * 131) % 20000),
       s.since, s.since + s.lasted, s.since + s.lasted, (s.mega * 180000)::bigint, (s.mega * 1100000)::bigint
from began b
join profile_listener pl on pl.profile_id = b.id and pl.position = 0
join credential k on k.id = pl.key_id
join handout h on h.profile_id = b.id
cross join lateral (
  select n, day + hour + pg_temp.chance(b.label, day || 'at' || hour) * interval '50 minutes' as since,
         interval '15 minutes' + pg_temp.chance(b.label, day || 'for' || hour) * interval '190 minutes' as lasted,
         pg_temp.chance(b.label, day || 'much' || hour) * 90 as mega
  from (select row_number() over () as n, day from generate_series(date_trunc('day', now()) - interval '29 days', date_trunc('day', now()) - interval '1 day', '1 day') as day) d
  cross join (values (interval '7 hours 20 minutes'), (interval '12 hours 10 minutes')) as t(hour)
  where extract(isodow from day) < 6 and pg_temp.chance(b.label, day || 'works' || hour) < 0.62) s
where b.label not in ('bram-laptop-pier1', 'hale-laptop-orrin-fw', 'dagny-phone-pier3', 'amos-laptop-pier3')
  and s.since > h.sent_at + interval '34 hours';

-- each listener was tried every hour; one bad evening at pier three, and a line that was slow for two days
insert into monitor_result (listener_id, at, proven, echo_millis, millis, rung)
select m.listener_id, h.at, h.works, case when h.works and l.protocol = 'wireguard' then h.echo end, 30 + (random() * 60)::int, case when h.works then null else 'answer' end
from monitor m
join listener l on l.id = m.listener_id
join gateway g on g.id = l.gateway_id
cross join lateral (
  select at, not (g.name = 'pier3' and at between now() - interval '6 days 3 hours' and now() - interval '5 days 22 hours') and random() > 0.0015 as works,
         11 + 5 * random() + case when extract(hour from at) between 8 and 16 then 6 * random() else 0 end
           + case when g.name = 'pier1' and at between now() - interval '12 days' and now() - interval '10 days' then 35 + 20 * random() else 0 end as echo
  from generate_series(now() - interval '29 days 20 hours', now() - interval '1 hour', '1 hour') as at) h
on conflict do nothing;
update monitor set since = now() - interval '5 days 22 hours' where since is not null;

-- backups were taken week by week
update backup b set taken_at = now() - (x.last - b.number) * interval '7 days' - random() * interval '5 hours'
from (select gateway_id, max(number) as last from backup group by gateway_id) x
where x.gateway_id = b.gateway_id and b.number < x.last;
commit;
