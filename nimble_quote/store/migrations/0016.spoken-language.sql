-- depends: 0015.calm-captions

-- The language that is spoken in a recording, as a code of ISO 639: told from its words, or by a person. What was there
-- before has been judged as English throughout.
alter table recording
    add column language text not null default 'en' check (language ~ '^[a-z]{2,3}$'),
    add column language_chosen boolean not null default false;
