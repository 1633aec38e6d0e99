alter table person add column language text;
