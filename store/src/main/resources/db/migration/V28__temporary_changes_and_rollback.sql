-- A temporary change is active until it is kept or rolled back.
alter table device_change drop constraint device_change_state_check;
update device_change set state = case state when 'in-force' then 'active' when 'returned' then 'rolled-back' else state end;
alter table device_change
    add constraint device_change_state_check
        check (state in ('ordered', 'writing', 'active', 'kept', 'failed', 'rolled-back'));
alter table device_change rename column return_at to revert_at;
alter table device_change drop constraint device_change_wanted_end_check;
update device_change set wanted_end = 'rollback' where wanted_end = 'return';
alter table device_change add constraint device_change_wanted_end_check check (wanted_end in ('keep', 'rollback'));
