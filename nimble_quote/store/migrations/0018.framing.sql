-- depends: 0017.meaning

-- Counts up with every change of what is known of a recording's picture: cuts, faces, names.
alter table recording add column picture_version bigint not null default 0;

-- A house's own destinations: at which rate clips are made (none: the recording's), and what their files are called.
alter table destination
    add column rate_num integer check (rate_num > 0),
    add column rate_den integer check (rate_den > 0),
    add column file_name text not null default '{recording} - {quote} - {destination}' check (length(file_name) between 1 and 120),
    add constraint destination_rate check ((rate_num is null) = (rate_den is null));
create sequence own_destination;
