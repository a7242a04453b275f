-- depends: 0007.taken-up-again

-- A newer revision of a version may be exported while an older one is still being made.
drop index export_live;
create unique index export_live on export (quote_id, destination, revision) where state in ('queued', 'running');
