-- Severities have the words of RFC 5424.
alter table finding drop constraint finding_severity_check;
update finding set severity = case severity when 'breaks' then 'error' when 'risks' then 'warning' else 'notice' end;
alter table finding add constraint finding_severity_check check (severity in ('error', 'warning', 'notice'));
