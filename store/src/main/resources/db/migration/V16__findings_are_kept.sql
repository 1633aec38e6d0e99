-- What is wrong or about to be, kept by what it depends on and judged again when that changes. rank puts the worst first.
create table finding (
    id bigserial primary key,
    scope text not null,
    rank integer not null,
    key text not null,
    code text not null,
    severity text not null check (severity in ('breaks', 'risks', 'note')),
    subject_kind text not null,
    subject_id text not null,
    subject text not null,
    evidence text not null,
    breaks text not null,
    remedy text not null,
    -- the gateway that it concerns, itself or by one of its listeners
    gateway_id uuid references gateway on delete cascade deferrable initially immediate,
    -- the one step by which Tender can mend it
    fix_gateway text,
    fix_change jsonb,
    one_step text,
    found_at timestamptz not null default now()
);
create index finding_scope on finding (scope);
create index finding_key on finding (key);
create index finding_order on finding (rank, subject collate "C", evidence collate "C", id);
create index finding_gateway on finding (gateway_id);

-- Which node does what only one of them has to do.
create table duty (
    name text primary key,
    node text not null,
    lease_until timestamptz not null
);

-- Names of the gateways that a gateway stands behind; what operators recorded counts before what the device reports.
create function gateway_behind(recorded jsonb, device jsonb) returns text[]
language sql immutable as $$
    select array(
        select u ->> 'behind'
        from jsonb_array_elements(
            case when jsonb_array_length(recorded) > 0 then recorded else coalesce(device -> 'uplinks', '[]'::jsonb) end) as u
        where u ->> 'behind' is not null)
$$;
alter table gateway add column behind text[] generated always as (gateway_behind(uplinks, device)) stored;
