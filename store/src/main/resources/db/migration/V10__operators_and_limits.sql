-- Accounts that may not sign in any more, the last one-time code that counted, and from where somebody was right lately.
alter table operator
    add column disabled_at timestamptz,
    add column last_code_step bigint;
create table known_source (
    operator_id uuid not null references operator on delete cascade deferrable initially immediate,
    source text not null,
    right_at timestamptz not null,
    primary key (operator_id, source)
);

-- What a sign-in may do, and whether it is for setting up the second factor alone.
alter table sign_in
    add column scope text not null default 'operate' check (scope in ('read', 'operate')),
    add column enrol_only boolean not null default false;

-- Each attempt is counted before the work it asks for, and forgotten when it was right.
alter table attempt add column id uuid not null default gen_random_uuid();
create index attempt_id on attempt (id);
