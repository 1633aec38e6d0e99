-- Why dangerous lines of an imported file may stay, as somebody decided it.
alter table profile add column decision text;
-- The name of a profile's files but for the revision: no two profiles ever share one.
create table file_stem (
    stem text primary key,
    profile_id uuid not null unique references profile deferrable initially immediate
);
