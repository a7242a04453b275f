-- depends: 0005.trimming

-- With the revision, so that whoever made the change knows it for their own.
create or replace function tell_quote_changed() returns trigger language plpgsql as $$
begin
    perform pg_notify('nimble_quote_changed', json_build_object('kind', 'quote', 'id', new.id, 'head', new.head)::text);
    return null;
end
$$;
drop trigger quote_changed on quote;
create trigger quote_changed after update on quote for each row execute function tell_quote_changed();
