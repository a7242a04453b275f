-- depends: 0006.quote-news

-- How often work was begun without being ended in order: what ends the worker itself each time is given up at last.
alter table work add column tries smallint not null default 0 check (tries >= 0);
alter table export add column tries smallint not null default 0 check (tries >= 0);
