-- A withdrawn profile gives its label to the next one: both rows are worked out together, in any order. The profiles themselves keep
-- their labels unique.
drop index profile_standing_label;
create index profile_standing_label on profile_standing (label);
