-- depends: 0021.graphics

-- Styles are the house's: each has a name and versions, one for each change of its look, which is kept whole.
create table caption_style_version (
    style catalogue_id not null references caption_style,
    version integer not null check (version > 0),
    look jsonb not null check (jsonb_typeof(look) = 'object'),
    by short_name,
    made_at timestamptz not null default now(),
    primary key (style, version)
);
create trigger caption_style_version_counted after insert or update or delete on caption_style_version
    for each statement execute function count_catalogue();

-- What each style looked like, in font sizes: a box is a plate behind each line, as high as the face's cell and its padding.
insert into caption_style_version (style, version, look)
    select s.id, 1, jsonb_build_object(
        'face', s.face,
        'size', s.size,
        'colour', s.colour,
        'spoken', case
            when s.spoken_bar then jsonb_build_object('mark', 'bar', 'colour', s.spoken)
            when s.spoken is not null then jsonb_build_object('mark', 'colour', 'colour', s.spoken)
            else jsonb_build_object('mark', 'none') end,
        'plate', case when s.edge = 'box' then jsonb_build_object('behind', 'line', 'colour', s.edge_colour,
            'across', round((s.edge_size / s.size)::numeric, 4),
            'down', round((s.edge_size / s.size - (1.28 - f.cell) / 2)::numeric, 4), 'radius', 0.1) end,
        'outline', case when s.edge = 'outline' and s.edge_size > 0 then jsonb_build_object('colour', s.edge_colour,
            'width', round(least(0.3, s.edge_size / s.size)::numeric, 4)) end,
        'limits', jsonb_build_object('line_characters', s.line_characters, 'lines', s.lines, 'shortest_ms', s.shortest_ms,
            'longest_ms', s.longest_ms, 'fastest_cps', s.fastest_cps))
    from caption_style s join face f on f.name = s.face;

alter table caption_style
    drop column face, drop column size, drop column colour, drop column spoken, drop column spoken_bar, drop column edge,
    drop column edge_colour, drop column edge_size, drop column line_characters, drop column lines, drop column shortest_ms,
    drop column longest_ms, drop column fastest_cps;
create sequence own_style;

-- One line of a few words at a time, for quick talk; Lamplight is offered no more, and stays where it was chosen.
update caption_style set retired_at = now() where id = 'lamplight';
update caption_style set said = 'quiet talk: a calm plate, a bar under the spoken word' where id = 'quay';
update caption_style set said = 'slides: two lines on a dark plate' where id = 'slate';
update caption_style set said = 'sound only: a reading face, for a quiet voice' where id = 'print';
insert into caption_style (id, name, said, place) values
    ('spark', 'Spark', 'quick podcast: one short line, the spoken word on a plate', 1);
insert into caption_style_version (style, version, look) values
    ('spark', 1, '{"face": "Lexend Bold", "size": 0.07, "case": "lower", "colour": "#FAF7F0", "emphasis": "#F2C14E",
        "spoken": {"mark": "plate", "colour": "#0B5454"}, "outline": {"colour": "#10231F", "width": 0.1},
        "shadow": {"colour": "#000000", "opacity": 0.5, "across": 0, "down": 0.05, "blur": 0.08},
        "heights": {"wide": 0.82},
        "limits": {"line_characters": 16, "lines": 1, "shortest_ms": 400, "longest_ms": 2500, "fastest_cps": 26}}');

-- Faces that the house brings are kept here. Faces that only stand in for scripts another lacks are not offered.
alter table face
    drop column cell,
    add column own boolean not null default false,
    add column offered boolean not null default true,
    add column licence text not null default '' check (length(licence) <= 500),
    add column content bytea check (own = (content is not null)),
    add column retired_at timestamptz;
insert into face (name, file, offered) values
    ('Atkinson Hyperlegible Regular', 'AtkinsonHyperlegible_400Regular.ttf', true),
    ('Noto Sans Bold', 'NotoSans_700Bold.ttf', true),
    ('Noto Sans Hebrew Bold', 'NotoSansHebrew_700Bold.ttf', false),
    ('Noto Sans Arabic Bold', 'NotoSansArabic-Bold.ttf', false),
    ('Noto Sans Devanagari Bold', 'NotoSansDevanagari_700Bold.ttf', false),
    ('Noto Sans Thai Bold', 'NotoSansThai_700Bold.ttf', false),
    ('Noto Sans SC Bold', 'NotoSansSC_700Bold.ttf', false),
    ('Noto Sans JP Bold', 'NotoSansJP_700Bold.ttf', false),
    ('Noto Sans KR Bold', 'NotoSansKR_700Bold.ttf', false),
    ('Noto Emoji Bold', 'NotoEmoji_700Bold.ttf', false);

-- The house's colours, to choose from.
alter table house_colour add column palette jsonb not null
    default '["#FAF7F0", "#FFFFFF", "#1C2330", "#161A22", "#0B5454", "#F2C14E"]' check (jsonb_typeof(palette) = 'array');
