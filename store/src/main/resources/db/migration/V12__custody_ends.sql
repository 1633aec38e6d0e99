-- A file whose key was erased after its collection keeps its row; what was in it is gone.
alter table profile_revision alter column content drop not null;
