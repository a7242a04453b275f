-- depends: 0014.lists

-- The style that new quotes begin with is a calm one: the spoken word gets a bar under it and no other colour.
alter table caption_style add column spoken_bar boolean not null default false;
insert into caption_style (id, name, said, face, size, colour, spoken, spoken_bar, edge, edge_colour, edge_size, line_characters,
        lines, shortest_ms, longest_ms, fastest_cps, place) values
    ('quay', 'Quay', 'a calm plate, a bar under the spoken word', 'Atkinson Hyperlegible Bold', 0.056, '#FAF7F0',
        null, true, 'box', '#0B5454', 0.016, 26, 2, 1000, 5000, 20, 0);
