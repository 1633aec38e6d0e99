-- What Tender signs in with at a gateway, and through which other gateway it is reached.
alter table gateway add column sign_in text not null default 'key' check (sign_in in ('key', 'password', 'token'));
update gateway set sign_in = 'token' where connector = 'https';
alter table gateway add column jump_id uuid references gateway;
