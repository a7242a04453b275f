-- depends: 0020.house-pictures

-- What stands still over the picture of a recording, in fractions of it.
create table still_graphic (
    recording_id bigint not null references recording on delete cascade,
    x real not null check (x between 0 and 1),
    y real not null check (y between 0 and 1),
    width real not null check (width between 0 and 1),
    height real not null check (height between 0 and 1),
    primary key (recording_id, x, y)
);
