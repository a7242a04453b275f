-- depends: 0012.one-kind-of-work

-- What media there are: a row for each file that is whole, with what it belongs to. A row that belongs to nothing any more
-- says that its file is to be freed.
create table media_file (
    key text primary key check (key ~ '^[a-z]+(/[A-Za-z0-9][A-Za-z0-9._-]*)+$' and key !~ '\.\.'),
    name text generated always as (regexp_replace(key, '^.*/', '')) stored,
    recording_id bigint references recording on delete set null,
    export_id bigint references export on delete set null,
    bytes bigint not null check (bytes >= 0),
    created_at timestamptz not null default now(),
    check (num_nonnulls(recording_id, export_id) <= 1)
);
create index media_file_recording on media_file (recording_id) where recording_id is not null;
create index media_file_export on media_file (export_id) where export_id is not null;
create index media_file_ownerless on media_file (key) where recording_id is null and export_id is null;

insert into media_file (key, recording_id, bytes, created_at) select media_path, id, size_bytes, created_at from recording;
insert into media_file (key, export_id, bytes, created_at)
    select file_path, id, coalesce((facts->>'size_bytes')::bigint, 0), made_at from export where file_path is not null;
