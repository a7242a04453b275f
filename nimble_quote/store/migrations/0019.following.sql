-- depends: 0018.framing

-- Anything that a person drew a box on is followed: its places through a stretch. Until it has been followed there are none.
-- Its number is one that no face ever has.
create table followed_thing (
    recording_id bigint not null references recording on delete cascade,
    subject integer not null check (subject between 5000 and 10000),
    name text check (length(name) between 1 and 80),
    at_ms integer[] not null default '{}',
    x real[] not null default '{}' check (cardinality(x) = cardinality(at_ms)),
    y real[] not null default '{}' check (cardinality(y) = cardinality(at_ms)),
    width real[] not null default '{}' check (cardinality(width) = cardinality(at_ms)),
    height real[] not null default '{}' check (cardinality(height) = cardinality(at_ms)),
    score real[] not null default '{}' check (cardinality(score) = cardinality(at_ms)),
    start_ms integer generated always as (at_ms[1]) stored,
    end_ms integer generated always as (at_ms[cardinality(at_ms)]) stored,
    removed_at timestamptz,
    primary key (recording_id, subject)
);

-- How much the mouth of a face moves with the sound, at each look (0 to 1); empty where nobody looked. And the picture of its
-- own that a face in a corner stands in (left, top, width, height, in fractions); empty where it stands in none.
alter table subject_track
    add column talking real[] not null default '{}' check (cardinality(talking) in (0, cardinality(at_ms))),
    add column inset real[] not null default '{}' check (cardinality(inset) in (0, 4));

-- Which version of looking saw what is known of a recording's picture: what an older one saw can be looked at again.
alter table recording add column seen_version integer not null default 1;

alter type work_kind add value 'follow';
alter table work
    drop constraint work_check,
    -- By its text: a new kind can't be named as one in the transaction that adds it.
    add constraint work_on_recording
        check ((recording_id is not null) = (kind::text in ('prepare', 'align', 'transcribe', 'follow')));
