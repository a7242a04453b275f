-- depends: 0025.sounds

-- What an export is made as; the stops that it is made with all the same, and why; a digest of all that it is made of, so that the
-- same is not made twice; and the name of its file, which is its own for good. Those made before are named as they were.
alter table export
    add column making jsonb not null default '{}' check (jsonb_typeof(making) = 'object'),
    add column overruled jsonb not null default '[]' check (jsonb_typeof(overruled) = 'array'),
    add column made_of text check (made_of ~ '^[0-9a-f]{64}$'),
    add column file_name text check (length(file_name) between 1 and 200),
    add column removed_at timestamptz;
create index export_made_of on export (made_of) where made_of is not null and removed_at is null;
create index export_file_name on export (lower(file_name)) where file_name is not null;

-- Which of the work that waits comes first: the higher, and of the same the older.
alter table work add column priority integer not null default 0;

-- While it is paused no export is begun; what is going on is made to its end.
create table export_queue (
    single boolean primary key default true check (single),
    paused boolean not null default false
);
insert into export_queue (paused) values (false);

-- What is written into each file as its copyright; nothing where it is empty.
alter table house_colour add column copyright text not null default '' check (length(copyright) <= 200);
