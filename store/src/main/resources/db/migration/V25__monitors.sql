-- A listener that is tried on a schedule has a monitor.
alter table round rename to monitor;
alter table round_result rename to monitor_result;
alter index round_pkey rename to monitor_pkey;
alter index round_result_pkey rename to monitor_result_pkey;
update job set kind = 'monitor' where kind = 'round';
update job set serial_key = replace(serial_key, 'round:', 'monitor:') where serial_key like 'round:%';
