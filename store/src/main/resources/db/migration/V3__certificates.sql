-- A peer whose credential has ended leaves the gateway while its profile stays, to be renewed.
alter table gateway_change drop constraint gateway_change_kind_check;
alter table gateway_change add constraint gateway_change_kind_check check (kind in ('add-peer', 'remove-peer', 'suspend-peer'));
