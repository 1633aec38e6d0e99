-- A vantage that is used no more; its trials keep its name.
alter table vantage add column archived_at timestamptz;
