-- depends: 0017.meaning

-- Counts up with every change of what is known of a recording's picture: cuts, faces, names.
alter table recording add column picture_version bigint not null default 0;
