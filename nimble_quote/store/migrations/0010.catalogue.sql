-- depends: 0009.lasting-words

-- What a house can choose from. A number counts up with each change, so that whoever holds a copy knows it is old.
create table catalogue_version (
    single boolean primary key default true check (single),
    version bigint not null
);
insert into catalogue_version (version) values (1);
create function count_catalogue() returns trigger language plpgsql as $$
begin
    update catalogue_version set version = version + 1;
    return null;
end
$$;

create domain colour_code as text check (value ~ '^#[0-9A-F]{6}$');
create domain catalogue_id as text check (value ~ '^[a-z][a-z0-9-]{0,39}$');

create table face (
    name text primary key check (length(name) between 1 and 120),
    file text not null check (file ~ '^[A-Za-z0-9_.-]+$'),
    cell double precision not null check (cell > 0)
);
comment on column face.cell is 'ascent and descent in font sizes: subtitle scripts give sizes as the height of this cell';

-- Nothing is deleted: what is retired is offered no more, and still shows where it was chosen.
create table destination (
    id catalogue_id primary key,
    name short_name not null,
    shape catalogue_id not null,
    width integer not null check (width > 0 and width % 2 = 0),
    height integer not null check (height > 0 and height % 2 = 0),
    limit_ms integer not null check (limit_ms > 0),
    largest_mb integer not null check (largest_mb > 0),
    covered jsonb not null default '[]' check (jsonb_typeof(covered) = 'array'),
    place integer not null,
    retired_at timestamptz
);
create table caption_style (
    id catalogue_id primary key,
    name short_name not null,
    said text not null,
    face text not null references face,
    size double precision not null check (size > 0),
    colour colour_code not null,
    spoken colour_code,
    edge text not null check (edge in ('outline', 'box')),
    edge_colour colour_code not null,
    edge_size double precision not null check (edge_size >= 0),
    line_characters integer not null check (line_characters > 0),
    lines integer not null check (lines > 0),
    shortest_ms integer not null,
    longest_ms integer not null check (longest_ms > shortest_ms),
    fastest_cps double precision not null,
    place integer not null,
    retired_at timestamptz
);
create trigger face_counted after insert or update or delete on face for each statement execute function count_catalogue();
create trigger destination_counted after insert or update or delete on destination
    for each statement execute function count_catalogue();
create trigger caption_style_counted after insert or update or delete on caption_style
    for each statement execute function count_catalogue();

insert into face (name, file, cell) values
    ('Lexend Bold', 'Lexend_700Bold.ttf', 1.59),
    ('Atkinson Hyperlegible Bold', 'AtkinsonHyperlegible_700Bold.ttf', 1.24),
    ('Nimble Serif SemiBold', 'NimbleSerif_600SemiBold.ttf', 1.333);

insert into destination (id, name, shape, width, height, limit_ms, largest_mb, covered, place)
    select id, name, shape, width, height, seconds * 1000, largest_mb, covered, place
    from (values
        ('story-15', 'Tall 15', 'tall', 1080, 1920, 15, 100, 1),
        ('tall-30', 'Tall 30', 'tall', 1080, 1920, 30, 100, 2),
        ('tall-60', 'Tall 60', 'tall', 1080, 1920, 60, 100, 3),
        ('tall-90', 'Tall 90', 'tall', 1080, 1920, 90, 100, 4),
        ('square-60', 'Square 60', 'square', 1080, 1080, 60, 100, 5),
        ('portrait-60', 'Portrait 60', 'portrait', 1080, 1350, 60, 100, 6),
        ('wide-140', 'Wide 140', 'wide', 1920, 1080, 140, 500, 7)
    ) as shipped (id, name, shape, width, height, seconds, largest_mb, place),
    lateral (select case when shape = 'tall' then '[
        {"x": 0, "y": 0, "width": 1, "height": 0.09, "name": "title bar"},
        {"x": 0, "y": 0.82, "width": 1, "height": 0.18, "name": "caption and account line"},
        {"x": 0.86, "y": 0.46, "width": 0.14, "height": 0.36, "name": "button column"}]'::jsonb
    else '[{"x": 0, "y": 0.91, "width": 1, "height": 0.09, "name": "player bar"}]'::jsonb end) as areas (covered);

insert into caption_style (id, name, said, face, size, colour, spoken, edge, edge_colour, edge_size, line_characters, lines,
        shortest_ms, longest_ms, fastest_cps, place) values
    ('lamplight', 'Lamplight', 'short, bold, the spoken word lit', 'Lexend Bold', 0.072, '#FFFFFF', '#F0B429', 'outline',
        '#161A22', 0.0065, 18, 2, 700, 3000, 24, 1),
    ('slate', 'Slate', 'two calm lines on a dark plate', 'Atkinson Hyperlegible Bold', 0.058, '#FAF7F0', null, 'box',
        '#161A22', 0.014, 26, 2, 1000, 6000, 20, 2),
    ('print', 'Print', 'a reading face, for a quiet voice', 'Nimble Serif SemiBold', 0.062, '#FAF7F0', null, 'outline',
        '#1C2330', 0.005, 24, 2, 1000, 6000, 20, 3);
