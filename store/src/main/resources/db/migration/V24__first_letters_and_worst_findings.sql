-- One or two typed letters are what a label begins with; the usual index cannot find that in every collation.
create index profile_standing_beginning on profile_standing (label text_pattern_ops);

-- The overview shows the worst findings first.
create index finding_worst on finding (rank, subject collate "C", evidence collate "C", id);
