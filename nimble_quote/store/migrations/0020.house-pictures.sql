-- depends: 0019.following

-- Pictures and a colour of the house's own, to stand behind what leaves some of a clip free. Small enough to be kept here.
-- Nothing is deleted: what is retired is offered no more, and still shows where it was chosen.
create table house_picture (
    id integer generated always as identity primary key,
    name short_name not null,
    jpeg bytea not null,
    width integer not null check (width > 0),
    height integer not null check (height > 0),
    retired_at timestamptz,
    created_at timestamptz not null default now()
);
create trigger house_picture_counted after insert or update or delete on house_picture
    for each statement execute function count_catalogue();
create table house_colour (
    single boolean primary key default true check (single),
    colour colour_code not null
);
insert into house_colour (colour) values ('#1C2330');
create trigger house_colour_counted after update on house_colour for each statement execute function count_catalogue();
