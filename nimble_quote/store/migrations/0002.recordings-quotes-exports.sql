-- Recordings and their words, quotes and their revisions, exports.
-- depends: 0001.task-queue

create type recording_state as enum ('preparing', 'ready', 'failed');

create table recording (
    id bigint generated always as identity primary key,
    title text not null check (length(title) between 1 and 200),
    file_name text not null check (length(file_name) between 1 and 255),
    content text not null unique check (content ~ '^[0-9a-f]{64}$'),
    media_path text not null check (media_path !~ '(^/|\.\.)'),
    duration_ms integer not null check (duration_ms > 0),
    width integer not null check (width >= 0),
    height integer not null check (height >= 0),
    rate_num integer not null check (rate_num > 0),
    rate_den integer not null check (rate_den > 0),
    video_codec text,
    audio_codec text not null,
    size_bytes bigint not null check (size_bytes > 0),
    transcript_notes text[] not null default '{}',
    state recording_state not null default 'preparing',
    stage text not null default 'Waiting',
    progress real not null default 0 check (progress between 0 and 1),
    stage_started_at timestamptz not null default now(),
    problem text,
    created_at timestamptz not null default now(),
    check ((width > 0) = (height > 0) and (width > 0) = (video_codec is not null)),
    check ((problem is not null) = (state = 'failed'))
);

-- One row a sentence, its words as arrays: a three-hour talk loads in 2,000 rows and not in 30,000.
create table sentence (
    recording_id bigint not null references recording on delete cascade,
    number integer not null check (number >= 0),
    first_word integer not null check (first_word >= 0),
    speaker text,
    words text[] not null check (cardinality(words) > 0),
    starts_ms integer[] not null check (cardinality(starts_ms) = cardinality(words)),
    ends_ms integer[] not null check (cardinality(ends_ms) = cardinality(words)),
    start_ms integer generated always as (starts_ms[1]) stored,
    end_ms integer generated always as (ends_ms[cardinality(words)]) stored,
    body text not null,
    lexemes tsvector generated always as (to_tsvector('english', body)) stored,
    primary key (recording_id, number),
    unique (recording_id, first_word)
);
create index sentence_lexemes on sentence using gin (lexemes);
create index sentence_time on sentence (recording_id, start_ms, end_ms);

create table face (
    recording_id bigint not null references recording on delete cascade,
    at_ms integer not null check (at_ms >= 0),
    x real not null check (x between 0 and 1),
    y real not null check (y between 0 and 1),
    width real not null check (width > 0 and x + width <= 1.0001),
    height real not null check (height > 0 and y + height <= 1.0001),
    score real not null check (score between 0 and 1)
);
create index face_time on face (recording_id, at_ms);

create table quote (
    id bigint generated always as identity primary key,
    recording_id bigint not null references recording on delete cascade,
    head integer not null,
    removed_at timestamptz,
    created_at timestamptz not null default now()
);
create index quote_recording on quote (recording_id);

create table quote_revision (
    quote_id bigint not null references quote on delete cascade,
    number integer not null check (number >= 1),
    parent integer,
    edit jsonb,
    said text not null,
    document jsonb not null,
    created_at timestamptz not null default now(),
    primary key (quote_id, number),
    foreign key (quote_id, parent) references quote_revision,
    check ((number = 1) = (parent is null) and (parent is null) = (edit is null) and parent < number)
);
alter table quote
    add constraint quote_head foreign key (id, head) references quote_revision deferrable initially deferred;

create type export_state as enum ('queued', 'running', 'done', 'failed', 'cancelled');

create table export (
    id bigint generated always as identity primary key,
    quote_id bigint not null,
    revision integer not null,
    destination text not null,
    assembly jsonb not null,
    state export_state not null default 'queued',
    attempt uuid,
    progress real not null default 0 check (progress between 0 and 1),
    cancel_requested boolean not null default false,
    started_at timestamptz,
    finished_at timestamptz,
    file_path text check (file_path !~ '(^/|\.\.)'),
    facts jsonb,
    findings jsonb,
    problem text,
    created_at timestamptz not null default now(),
    foreign key (quote_id, revision) references quote_revision on delete cascade,
    check ((state = 'done') = (file_path is not null and facts is not null and findings is not null)),
    check ((state = 'failed') = (problem is not null)),
    check ((state in ('done', 'failed', 'cancelled')) = (finished_at is not null)),
    check (state <> 'running' or attempt is not null)
);
-- A version is made once at a time.
create unique index export_live on export (quote_id, destination) where state in ('queued', 'running');
create index export_newest on export (created_at desc);

-- A wake-up for whoever shows progress; the tables are the truth.
create function tell_changed() returns trigger language plpgsql as $$
begin
    perform pg_notify('nimble_quote_changed', json_build_object('kind', tg_table_name, 'id', new.id)::text);
    return null;
end
$$;
create trigger recording_changed after insert or update on recording for each row execute function tell_changed();
create trigger export_changed after insert or update on export for each row execute function tell_changed();
