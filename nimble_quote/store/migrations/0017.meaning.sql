-- depends: 0016.spoken-language

-- What the thoughts of a talk mean, a row a talk: each is a run of whole sentences with a vector, a byte a number. Made
-- in the background from the words of one version, and made again when there is a newer one.
create table meaning (
    recording_id bigint primary key references recording on delete cascade,
    words_version bigint not null,
    model text not null check (model <> ''),
    firsts integer[] not null,
    ends integer[] not null,
    words integer[] not null,
    sums bytea[] not null,
    vectors bytea not null,
    check (cardinality(firsts) = cardinality(ends) and cardinality(firsts) = cardinality(words)
        and cardinality(firsts) = cardinality(sums))
);
comment on column meaning.firsts is 'the first sentence of each thought; ends is the first after it';
comment on column meaning.sums is 'a sum of the text of each thought: what stays the same keeps its vector';
-- Half the size of a row is not worth its time here: vectors hardly shrink.
alter table meaning alter column vectors set storage external;
