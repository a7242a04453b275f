-- depends: 0008.newer-exports

-- A number for each word that no other word of its recording ever had: what hangs on a word names it by that.
alter table recording add column next_word_id integer not null default 0 check (next_word_id >= 0);
alter table sentence
    add column ids integer[],
    add column lineage jsonb check (jsonb_array_length(lineage) = cardinality(words));
update sentence set ids = array(select generate_series(first_word, first_word + cardinality(words) - 1));
alter table sentence
    alter column ids set not null,
    add check (cardinality(ids) = cardinality(words));
update recording r set next_word_id = coalesce(
    (select max(first_word + cardinality(words)) from sentence s where s.recording_id = r.id), 0);

-- Corrections of captions and accepted notes named words by when they began: they are told the number, too.
create function pg_temp.word_at(of_recording bigint, at_ms integer) returns integer language sql as $$
    select w.id from sentence s, unnest(s.starts_ms, s.ids) as w (start_ms, id)
    where s.recording_id = of_recording and s.start_ms <= at_ms and s.end_ms >= at_ms and w.start_ms = at_ms
    order by w.id limit 1
$$;
update quote_revision v set document = jsonb_set(v.document, '{captions,corrections}', (
    select jsonb_agg(c || jsonb_build_object('word', pg_temp.word_at(q.recording_id, (c->>'at_ms')::integer)) order by place)
    from jsonb_array_elements(v.document #> '{captions,corrections}') with ordinality as told (c, place)))
from quote q where q.id = v.quote_id and jsonb_array_length(v.document #> '{captions,corrections}') > 0;
update quote_revision v set document = jsonb_set(v.document, '{accepted}', (
    select jsonb_agg(
        case when n->>'what' ~ '^[a-z-]+:[0-9]{1,9}$'
        then n || jsonb_build_object('word', pg_temp.word_at(q.recording_id, split_part(n->>'what', ':', 2)::integer))
        else n end order by place)
    from jsonb_array_elements(v.document->'accepted') with ordinality as told (n, place)))
from quote q where q.id = v.quote_id and jsonb_array_length(v.document->'accepted') > 0;
