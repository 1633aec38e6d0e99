-- Rows of one transaction are written in batches, statement by statement; what refers to what is checked when it commits.
do $$
declare
    c record;
begin
    for c in select conrelid::regclass as holder, conname from pg_constraint
             where contype = 'f' and connamespace = 'public'::regnamespace and conparentid = 0
    loop
        execute format('alter table %s alter constraint %I deferrable initially immediate', c.holder, c.conname);
    end loop;
end $$;
