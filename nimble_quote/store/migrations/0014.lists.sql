-- depends: 0013.media-files

-- For lists of thousands: what work on a recording is not done, and which quotes have clips.
create index work_recording on work (recording_id, kind, id) where recording_id is not null;
create index work_unfinished on work (id) where state <> 'done';
create index export_made on export (quote_id) where made_at is not null;

-- What the shelf tells of a recording's words, counted when they change and not for each list.
alter table recording
    add column words integer not null default 0 check (words >= 0),
    add column speakers text[] not null default '{}';
create or replace function make_stretches(of_recording bigint) returns void language sql as $$
    update recording set words_version = words_version + 1,
        words = coalesce((select sum(cardinality(s.words)) from sentence s where s.recording_id = of_recording), 0),
        speakers = array(select distinct s.speaker::text from sentence s
            where s.recording_id = of_recording and s.speaker is not null order by 1)
        where id = of_recording;
    delete from stretch where recording_id = of_recording;
    insert into stretch (recording_id, number, first_sentence, last_sentence, start_ms, end_ms, lexemes)
        select of_recording, part, min(number), max(number), min(start_ms), max(end_ms),
            to_tsvector('public.spoken', string_agg(body, ' ' order by number))
        from sentence, lateral (values (first_word / 60), (first_word / 60 - 1)) as parts (part)
        where recording_id = of_recording and part >= 0
            and (part = 0 or part < (select max(first_word) / 60 from sentence where recording_id = of_recording))
        group by part;
$$;
update recording r set words = told.words, speakers = told.speakers
    from (select recording_id, sum(cardinality(words)) as words,
            coalesce(array_agg(distinct speaker::text order by speaker::text) filter (where speaker is not null), '{}') as speakers
        from sentence group by recording_id) as told
    where told.recording_id = r.id;
