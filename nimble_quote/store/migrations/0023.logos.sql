-- depends: 0022.caption-styles

-- Pictures of the house's stand over others as well: logos with what is seen through, pictures that are put in. Each is known by
-- what is in it, so that it is kept once, and can be replaced wherever it is used; a number that counts up tells which it is now.
alter table house_picture rename column jpeg to content;
alter table house_picture
    add column media_type text not null default 'image/jpeg' check (media_type in ('image/jpeg', 'image/png')),
    add column digest text,
    add column revision integer not null default 1 check (revision > 0),
    add column licence text not null default '' check (length(licence) <= 500);
update house_picture set digest = encode(sha256(content), 'hex');
alter table house_picture alter column digest set not null;
create index house_picture_digest on house_picture (digest);
