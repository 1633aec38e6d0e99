-- Monitoring counts the trials of the last hour.
create index trial_ended on trial (ended_at);
