-- depends: 0024.finishes

-- Music and sounds of the house's: those that ship are files of the program, the others are here whole. What is measured of each is
-- how long and how loud it is, and between which of its samples it can be looped.
create table house_sound (
    id bigint generated always as identity primary key,
    name text not null check (length(name) between 1 and 80 and name = btrim(name)),
    licence text not null default '' check (length(licence) <= 500),
    content bytea,
    file text check (file ~ '^[a-z0-9-]+\.opus$'),
    digest text not null,
    duration_ms integer not null check (duration_ms > 0),
    loudness_lufs double precision not null,
    loop_start integer check (loop_start >= 0),
    loop_end integer check (loop_end > loop_start),
    loop_alike double precision,
    revision integer not null default 1 check (revision > 0),
    made_at timestamptz not null default now(),
    retired_at timestamptz,
    check (num_nonnulls(content, file) = 1),
    check (num_nonnulls(loop_start, loop_end, loop_alike) in (0, 3))
);
create index house_sound_digest on house_sound (digest);
create trigger house_sound_counted after insert or update or delete on house_sound
    for each statement execute function count_catalogue();

insert into house_sound (name, licence, file, digest, duration_ms, loudness_lufs, loop_start, loop_end, loop_alike) values
    ('Short wick', 'Made for Nimble Quote: free to use, without credit', 'short-wick.opus', 'short-wick', 25263, -16.3, 0, 1212632, 1),
    ('Still water', 'Made for Nimble Quote: free to use, without credit', 'still-water.opus', 'still-water', 30000, -13.6, 0, 1440000, 1),
    ('First light', 'Made for Nimble Quote: free to use, without credit', 'first-light.opus', 'first-light', 23478, -13.5, 0, 1126957, 1);

-- What of others an export shows or has heard, with what was noted of its licence when it was made.
alter table export add column credits jsonb not null default '[]' check (jsonb_typeof(credits) = 'array');

-- What people are who speak in the house's talks, by their names: what a name strap says under a name.
create table house_person (
    name short_name primary key,
    role text not null check (length(role) between 1 and 120 and role = btrim(role))
);
create trigger house_person_counted after insert or update or delete on house_person
    for each statement execute function count_catalogue();
