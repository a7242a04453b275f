-- depends: 0023.logos

-- Finishes are the house's: each has a name and versions, one for each change of what it has, which is kept whole.
create sequence own_finish;
create table finish (
    id catalogue_id primary key default 'own-' || nextval('own_finish'),
    name short_name not null,
    said text not null default '' check (length(said) <= 120),
    place integer not null,
    retired_at timestamptz
);
create unique index finish_name on finish (lower(name)) where retired_at is null;
create table finish_version (
    finish catalogue_id not null references finish,
    version integer not null check (version > 0),
    items jsonb not null check (jsonb_typeof(items) = 'array'),
    by short_name,
    made_at timestamptz not null default now(),
    primary key (finish, version)
);
create trigger finish_counted after insert or update or delete on finish for each statement execute function count_catalogue();
create trigger finish_version_counted after insert or update or delete on finish_version
    for each statement execute function count_catalogue();

-- What new quotes of a series follow.
create table series_finish (
    series short_name primary key,
    finish catalogue_id not null references finish
);
create trigger series_finish_counted after insert or update or delete on series_finish
    for each statement execute function count_catalogue();

insert into finish (id, name, said, place) values
    ('quiet-title', 'Quiet title', 'a talk: its title, who speaks, how far it is', 1),
    ('sound-only', 'Sound only', 'a talk without a picture: its title and the voice', 2);
insert into finish_version (finish, version, items) values
    ('quiet-title', 1, '[
        {"number": 1, "when": {"kind": "whole"}, "what": {"kind": "title", "text": "{title}"}},
        {"number": 2, "when": {"kind": "start", "offset_ms": 800, "length_ms": 4000},
            "what": {"kind": "name-strap", "look": {"entrance": "slide", "exit": "fade"}}},
        {"number": 3, "when": {"kind": "whole"}, "what": {"kind": "progress", "edge": "bottom", "colour": "#F2C14E"}}]'),
    ('sound-only', 1, '[
        {"number": 1, "when": {"kind": "whole"}, "what": {"kind": "title", "text": "{title}"}},
        {"number": 2, "when": {"kind": "whole"}, "what": {"kind": "sound-wave", "form": "bars", "width": 0.8, "height": 0.3}},
        {"number": 3, "when": {"kind": "whole"}, "what": {"kind": "time-left"}, "wish": "bottom-right"}]');
