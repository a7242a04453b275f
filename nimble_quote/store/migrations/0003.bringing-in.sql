-- What a person tells of a recording, what is found in its sound and picture, corrections of its words, and long work.
-- depends: 0002.recordings-quotes-exports

create domain short_name as text check (length(value) between 1 and 120 and value = btrim(value));

alter table recording
    add column series short_name,
    add column held_on date,
    add column notes text not null default '' check (length(notes) <= 20000),
    add column removed_at timestamptz,
    add column sound_tracks jsonb not null default '[]' check (jsonb_typeof(sound_tracks) = 'array'),
    add column sound_track integer not null default 0 check (sound_track >= 0),
    add column loudness_lufs real,
    add column transcript_origin text check (transcript_origin in ('file', 'recogniser', 'service')),
    add column transcript_rough boolean not null default false,
    add column transcript_head integer not null default 0 check (transcript_head >= 0),
    alter column audio_codec drop not null,
    drop column state,
    drop column stage,
    drop column progress,
    drop column stage_started_at,
    drop column problem,
    add check (audio_codec is not null or video_codec is not null);
drop type recording_state;
create index recording_series on recording (series, held_on desc);
update recording set transcript_origin = 'file';

-- Something long that is done to a recording, or to get one: asked for, going on, or ended one way or another.
create type work_kind as enum ('prepare', 'align', 'transcribe', 'fetch');
create type work_state as enum ('queued', 'running', 'done', 'failed', 'stopped');
create table work (
    id bigint generated always as identity primary key,
    recording_id bigint references recording on delete cascade,
    kind work_kind not null,
    details jsonb not null default '{}',
    state work_state not null default 'queued',
    stage text not null default 'Waiting' check (length(stage) between 1 and 200),
    progress real not null default 0 check (progress between 0 and 1),
    attempt uuid,
    stop_requested boolean not null default false,
    problem text,
    created_at timestamptz not null default now(),
    started_at timestamptz,
    progressed_from real not null default 0,
    finished_at timestamptz,
    check ((recording_id is null) = (kind = 'fetch')),
    check ((state = 'failed') = (problem is not null)),
    check ((state in ('done', 'failed', 'stopped')) = (finished_at is not null)),
    check (state <> 'running' or (attempt is not null and started_at is not null))
);
create unique index work_live on work (recording_id, kind) where state in ('queued', 'running');
create index work_newest on work (created_at desc);
create trigger work_changed after insert or update on work for each row execute function tell_changed();
-- Everything on the shelf is looked at again, for what was not looked for before.
insert into work (recording_id, kind) select id, 'prepare' from recording;

create table speaker (
    recording_id bigint not null references recording on delete cascade,
    name short_name not null,
    colour integer not null check (colour between 0 and 7),
    primary key (recording_id, name)
);
insert into speaker (recording_id, name, colour)
    select recording_id, btrim(left(speaker, 120)), (row_number() over (partition by recording_id order by min(number)) - 1) % 8
    from sentence where btrim(left(speaker, 120)) <> '' group by recording_id, btrim(left(speaker, 120));
update sentence set speaker = nullif(btrim(left(speaker, 120)), '');

-- Of each word: where its time is from (a letter a word: given, aligned, estimated), how sure the recogniser was of it
-- (percent), and what stood there before a person corrected it.
alter table sentence
    add column timing text,
    add column sure smallint[],
    add column heard text[];
update sentence set timing = repeat('g', cardinality(words));
alter table sentence
    alter column timing set not null,
    add check (length(timing) = cardinality(words) and timing ~ '^[gae]+$'),
    add check (cardinality(sure) = cardinality(words)),
    add check (cardinality(heard) = cardinality(words)),
    add foreign key (recording_id, speaker) references speaker on update cascade,
    drop constraint sentence_pkey,
    drop constraint sentence_recording_id_first_word_key,
    add primary key (recording_id, number) deferrable,
    add unique (recording_id, first_word) deferrable;

-- What a person changed of a transcript: undo and redo move the head along these, as they do for quotes.
create table transcript_revision (
    recording_id bigint not null references recording on delete cascade,
    number integer not null check (number >= 1),
    parent integer not null check (parent >= 0 and parent < number),
    said text not null,
    change jsonb not null,
    created_at timestamptz not null default now(),
    primary key (recording_id, number)
);

create table picture_change (
    recording_id bigint not null references recording on delete cascade,
    at_ms integer not null check (at_ms >= 0),
    kind text not null check (kind in ('cut', 'slide', 'flash')),
    primary key (recording_id, at_ms)
);
create table cut_by_hand (
    recording_id bigint not null references recording on delete cascade,
    at_ms integer not null check (at_ms >= 0),
    there boolean not null,
    primary key (recording_id, at_ms)
);

-- A row for each face through a shot, its places side by side.
drop table face;
create table subject_track (
    recording_id bigint not null references recording on delete cascade,
    number integer not null check (number >= 0),
    subject integer not null check (subject >= 0),
    at_ms integer[] not null check (cardinality(at_ms) > 0),
    x real[] not null check (cardinality(x) = cardinality(at_ms)),
    y real[] not null check (cardinality(y) = cardinality(at_ms)),
    width real[] not null check (cardinality(width) = cardinality(at_ms)),
    height real[] not null check (cardinality(height) = cardinality(at_ms)),
    turn real[] not null check (cardinality(turn) = cardinality(at_ms)),
    score real[] not null check (cardinality(score) = cardinality(at_ms)),
    start_ms integer generated always as (at_ms[1]) stored,
    end_ms integer generated always as (at_ms[cardinality(at_ms)]) stored,
    primary key (recording_id, number)
);
create index subject_track_time on subject_track (recording_id, start_ms, end_ms);

-- Names as this house spells them.
create table house_name (
    name short_name primary key,
    created_at timestamptz not null default now()
);
