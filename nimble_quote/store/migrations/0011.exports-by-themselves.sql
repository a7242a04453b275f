-- depends: 0010.catalogue

-- What the outbox shows of an export is its own; one that waits is assembled anew from its revision.
alter table export
    add column destination_name text,
    add column width integer,
    add column height integer,
    add column limit_ms integer,
    add column largest_mb integer,
    add column rate_num integer,
    add column rate_den integer,
    add column planned_frames integer,
    add column cues jsonb not null default '[]' check (jsonb_typeof(cues) = 'array');
update export set
    -- Where something of it is missing the export still shows, and is made anew or is there already.
    destination_name = coalesce(assembly #>> '{destination,name}', destination),
    width = coalesce((assembly #>> '{destination,width}')::integer, 2),
    height = coalesce((assembly #>> '{destination,height}')::integer, 2),
    limit_ms = coalesce((assembly #>> '{destination,limit_ms}')::integer, 1),
    largest_mb = coalesce((assembly #>> '{destination,largest_mb}')::integer, 1),
    rate_num = coalesce(split_part(assembly->>'rate', '/', 1)::integer, 25),
    rate_den = coalesce(nullif(split_part(assembly->>'rate', '/', 2), ''), '1')::integer,
    planned_frames = coalesce((assembly->>'frames')::integer, 1),
    -- The captions that were burned in: first and last frame, and the text of each line.
    cues = coalesce((
        select jsonb_agg(jsonb_build_object('first_frame', cue->'first_frame', 'end_frame', cue->'end_frame', 'lines', (
            select jsonb_agg((
                select string_agg(word->>'text', ' ' order by w) from jsonb_array_elements(line) with ordinality as a (word, w)
            ) order by l) from jsonb_array_elements(cue->'lines') with ordinality as b (line, l))) order by c)
        from jsonb_array_elements(assembly #> '{captions,cues}') with ordinality as d (cue, c)), '[]');
alter table export
    alter column destination_name set not null,
    alter column width set not null,
    alter column height set not null,
    alter column limit_ms set not null,
    alter column largest_mb set not null,
    alter column rate_num set not null,
    alter column rate_den set not null,
    alter column planned_frames set not null,
    add check (width > 0 and height > 0 and limit_ms > 0 and largest_mb > 0 and rate_num > 0 and rate_den > 0 and planned_frames > 0),
    drop column assembly;

-- A shot as a few cells of colour, by which shots that look alike are found.
create table shot_look (
    recording_id bigint not null references recording on delete cascade,
    at_ms integer not null check (at_ms >= 0),
    look bytea not null,
    primary key (recording_id, at_ms)
);
-- Who a subject is, as a person named it or as words and mouths agree.
create table subject_name (
    recording_id bigint not null references recording on delete cascade,
    subject integer not null check (subject >= 0),
    name short_name not null,
    by_hand boolean not null,
    primary key (recording_id, subject)
);
