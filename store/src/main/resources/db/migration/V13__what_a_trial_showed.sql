-- Whether a profile's files take the routes and name servers that the server pushes, beside their own.
alter table profile_listener add column takes_pushed boolean not null default false;

-- A trial says what it was of, what it was asked to show, and what it says of its profile: works, fails, or nothing.
alter table trial rename column claim to subject;
alter table trial add column claims jsonb not null default '[]', add column profile_works boolean;
