-- Trimming: who changed a quote, named points, copies and parts, a speaker's approval, and news of changed quotes.
-- depends: 0004.find-and-shortlist

alter table quote_revision
    add column by_whom text check (length(by_whom) between 1 and 80),
    add column name text check (length(name) between 1 and 80);

alter table quote
    add column copied_from bigint references quote on delete set null,
    add column part_of bigint references quote on delete set null;

create type approval_answer as enum ('approved', 'change wanted');

-- What a speaker was asked: a page of their own under an address that nobody can guess. Only the address's hash is kept.
create table approval (
    id bigint generated always as identity primary key,
    quote_id bigint not null,
    revision integer not null,
    address_hash bytea not null unique check (length(address_hash) = 32),
    created_at timestamptz not null default now(),
    expires_at timestamptz not null,
    revoked_at timestamptz,
    answer approval_answer,
    answered_by text check (length(answered_by) between 1 and 80),
    note text check (length(note) <= 2000),
    answered_at timestamptz,
    foreign key (quote_id, revision) references quote_revision on delete cascade,
    check (expires_at > created_at),
    check ((answer is null) = (answered_at is null) and (answer is null) = (answered_by is null))
);
create index approval_quote on approval (quote_id, id);

create trigger quote_changed after update on quote for each row execute function tell_changed();

create function tell_quote_answered() returns trigger language plpgsql as $$
begin
    perform pg_notify('nimble_quote_changed', json_build_object('kind', 'quote', 'id', new.quote_id)::text);
    return null;
end
$$;
create trigger approval_changed after update on approval for each row execute function tell_quote_answered();
