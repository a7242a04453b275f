-- Searching passages over all talks, the words of the house, searches kept, choices of soundbites, the shortlist.
-- depends: 0003.bringing-in

create extension if not exists pg_trgm;
create extension if not exists unaccent;
create extension if not exists fuzzystrmatch;
create extension if not exists btree_gin;

create text search configuration spoken (copy = english);
alter text search configuration spoken
    alter mapping for hword, hword_part, word with unaccent, english_stem;

-- A word of a talk as searches compare it: small letters, without accents and punctuation around it.
create function bare_form(word text) returns text language sql immutable parallel safe as $$
    select lower(regexp_replace(public.unaccent('public.unaccent', word), '^[^[:alnum:]]+|[^[:alnum:]]+$', '', 'g'))
$$;

create function bare_forms(words text[]) returns text[] language sql immutable parallel safe as $$
    select array(select public.bare_form(word) from unnest(words) with ordinality as w (word, place) order by place)
$$;
alter table sentence add column forms text[] not null generated always as (bare_forms(words)) stored;

-- The lexemes of a word in the order they stand in it; none where it is too common to be searched for.
create function lexemes_of(word text) returns text[] language sql immutable parallel safe as $$
    select array(select lexeme from unnest(to_tsvector('public.spoken', word)) order by positions[1], length(lexeme) desc)
$$;

-- Every form of a word that talks have, and how often.
create table term (
    form text primary key check (form <> ''),
    lexemes text[] not null,
    sound text not null,
    uses integer not null check (uses >= 0)
) with (fillfactor = 60);
create index term_trigrams on term using gin (form gin_trgm_ops);
create index term_beginning on term (form text_pattern_ops);
create index term_lexeme on term ((lexemes[1]));
create index term_sound on term (sound);

-- Rows are locked in the order of their forms, so that two that count at once never wait for each other in a ring; and
-- what a form stands for is worked out once, when it is first said.
create function count_terms(forms text[], counts bigint[]) returns void language plpgsql as $$
begin
    insert into term (form, lexemes, sound, uses)
        select form, lexemes_of(form), dmetaphone(form), 0 from unnest(forms) as said (form)
        where not exists (select from term t where t.form = said.form) order by form
    on conflict do nothing;
    perform from term join unnest(forms) as said (form) using (form) order by term.form for update of term;
    update term set uses = uses + n from unnest(forms, counts) as counted (form, n) where term.form = counted.form;
end
$$;
create function count_added_terms() returns trigger language plpgsql as $$
begin
    perform count_terms(array_agg(form), array_agg(n)) from (
        select form, count(*) as n from added, unnest(forms) as form group by 1) as counted
    where form <> '';
    return null;
end
$$;
create function count_dropped_terms() returns trigger language plpgsql as $$
begin
    perform count_terms(array_agg(form), array_agg(-n)) from (
        select form, count(*) as n from dropped, unnest(forms) as form group by 1) as counted
    where form <> '';
    return null;
end
$$;
create trigger sentence_added after insert on sentence referencing new table as added
    for each statement execute function count_added_terms();
create trigger sentence_dropped after delete on sentence referencing old table as dropped
    for each statement execute function count_dropped_terms();
-- The words of a sentence are changed by putting another in its place, so that they are counted.
create function refuse_words() returns trigger language plpgsql as $$
begin
    raise exception 'the words of a sentence are not updated in place';
end
$$;
create trigger sentence_words before update of words on sentence
    for each row when (old.words is distinct from new.words) execute function refuse_words();

-- Counts the words of all talks anew.
create function count_all_terms() returns void language sql as $$
    delete from term;
    insert into term (form, lexemes, sound, uses)
        select form, lexemes_of(form), dmetaphone(form), n
        from (select form, count(*) as n from sentence, unnest(forms) as form group by 1) as counted
        where form <> '';
$$;
do $$ begin perform count_all_terms(); end $$;

-- What is searched: stretches of about 120 words, each half shared with the next, so that words near each other are in
-- one of them whatever sentences they are in.
create table stretch (
    recording_id bigint not null references recording on delete cascade,
    number integer not null check (number >= 0),
    first_sentence integer not null check (first_sentence >= 0),
    last_sentence integer not null check (last_sentence >= first_sentence),
    start_ms integer not null,
    end_ms integer not null,
    lexemes tsvector not null,
    primary key (recording_id, number)
);
create index stretch_lexemes on stretch using gin (recording_id, lexemes) with (fastupdate = off);

-- Counts up with every change of the words of a talk or their times.
alter table recording add column words_version bigint not null default 0;

create function make_stretches(of_recording bigint) returns void language sql as $$
    update recording set words_version = words_version + 1 where id = of_recording;
    delete from stretch where recording_id = of_recording;
    insert into stretch (recording_id, number, first_sentence, last_sentence, start_ms, end_ms, lexemes)
        select of_recording, part, min(number), max(number), min(start_ms), max(end_ms),
            to_tsvector('public.spoken', string_agg(body, ' ' order by number))
        from sentence, lateral (values (first_word / 60), (first_word / 60 - 1)) as parts (part)
        where recording_id = of_recording and part >= 0
            and (part = 0 or part < (select max(first_word) / 60 from sentence where recording_id = of_recording))
        group by part;
$$;
do $$ begin perform make_stretches(recording_id) from (select distinct recording_id from sentence) as told; end $$;

drop index sentence_lexemes;
alter table sentence drop column lexemes;

create table search (
    typed text primary key check (length(typed) between 1 and 200),
    saved boolean not null default false,
    asked_at timestamptz not null default now()
);

-- What a person decided of a soundbite that was offered, with how it was judged then: from these the house's own taste
-- is learned.
create table soundbite_choice (
    recording_id bigint not null references recording on delete cascade,
    start_ms integer not null check (start_ms >= 0),
    end_ms integer not null check (end_ms > start_ms),
    verdict text not null check (verdict in ('kept', 'parked', 'unlike')),
    judged jsonb not null check (jsonb_typeof(judged) = 'object'),
    created_at timestamptz not null default now(),
    primary key (recording_id, start_ms, end_ms)
);

-- Where a quote stands on the shortlist, and what is said of it there.
create type slip_mark as enum ('candidate', 'picked', 'parked', 'done');
create sequence quote_place;
alter table quote
    add column mark slip_mark not null default 'candidate',
    add column place bigint not null default nextval('quote_place'),
    add column tags text[] not null default '{}' check (cardinality(tags) <= 20),
    add column note text not null default '' check (length(note) <= 2000);
alter sequence quote_place owned by quote.place;
