-- depends: 0026.exports-as-wanted

-- Where the whole of a talk can be seen, for the texts that clips are posted with.
alter table recording add column link text not null default '' check (length(link) <= 2000);

-- How long the texts may be where a destination's clips go, counted as that place counts.
alter table destination add column texts jsonb not null default '{}' check (jsonb_typeof(texts) = 'object');
update destination set texts = '{"title": 60, "description": 300, "tags": 5, "link_length": 24}' where limit_ms <= 15000;

-- How a house posts: how its texts begin, at what hour and where on earth, and whether phones of its network may fetch clips.
create table house_posting (
    single boolean primary key default true check (single),
    pattern text not null check (length(pattern) <= 2000),
    time_zone text not null check (length(time_zone) between 1 and 80),
    usual_time time not null,
    phones boolean not null default false
);
insert into house_posting (pattern, time_zone, usual_time) values (
    E'“{words}”\n{speaker}, {recording}\n\nThe full talk: {link}\n{credits}', 'Etc/UTC', '17:00');

-- An account with a service that clips are posted to. Its tokens are encrypted by a key that is not in the database.
create table posting_account (
    id bigint generated always as identity primary key,
    service text not null check (length(service) between 1 and 300),
    name text not null check (length(name) between 1 and 120),
    remote text not null,
    tokens bytea,
    limits jsonb not null check (jsonb_typeof(limits) = 'object'),
    created_at timestamptz not null default now(),
    removed_at timestamptz,
    check (removed_at is null or tokens is null)
);
comment on column posting_account.tokens is 'none where the service has signed the house out, or the account was removed';
create unique index posting_account_one on posting_account (service, remote) where removed_at is null;

-- A sign-in with a service that has been begun: known by the hash of its state, good once and for ten minutes.
create table posting_sign_in (
    state_hash bytea primary key,
    service text not null,
    verifier bytea not null,
    created_at timestamptz not null default now()
);

create type post_state as enum ('draft', 'scheduled', 'sending', 'posted', 'failed', 'cancelled', 'removing', 'removed');
create table post (
    id bigint generated always as identity primary key,
    quote_id bigint not null references quote on delete cascade,
    destination text not null references destination,
    account_id bigint references posting_account,
    export_id bigint references export on delete set null,
    state post_state not null default 'draft',
    wall timestamp not null,
    zone text not null,
    due_at timestamptz not null,
    visibility text not null default 'public' check (visibility in ('public', 'unlisted', 'private')),
    text jsonb not null check (jsonb_typeof(text) = 'object'),
    key uuid not null unique default gen_random_uuid(),
    remote_id text,
    remote_stale boolean not null default false,
    address text,
    cancel_requested boolean not null default false,
    tries integer not null default 0,
    not_before timestamptz,
    problem text,
    created_at timestamptz not null default now(),
    posted_at timestamptz,
    check (state in ('draft', 'cancelled') or account_id is not null),
    check (state <> 'posted' or (remote_id is not null and posted_at is not null))
);
comment on column post.wall is 'the time on the clock of its zone, which stays when the rules of the zone change';
comment on column post.key is 'goes along with every request to the service, so that one post is never two there';
comment on column post.remote_stale is 'what the service has of it says what is not meant any more';
create unique index post_live on post (quote_id, destination, account_id) where state in ('scheduled', 'sending');
create index post_due on post (due_at) where state in ('scheduled', 'sending', 'removing');
create index post_of_quote on post (quote_id);
create function tell_post_changed() returns trigger language plpgsql as $$
begin
    perform pg_notify('nimble_quote_changed', json_build_object('kind', 'post', 'id', coalesce(new.id, old.id))::text);
    return null;
end
$$;
create trigger post_changed after insert or update or delete on post for each row execute function tell_post_changed();

-- Sending a post is long work as any other.
alter type work_kind add value 'post';
alter table work add column post_id bigint references post on delete cascade,
    add constraint work_on_post check ((post_id is not null) = (kind::text = 'post'));
create index work_of_post on work (post_id) where post_id is not null;

-- A link for a phone to the clips of one quote, known to whoever was given it: only its hash is kept.
create table phone_link (
    id bigint generated always as identity primary key,
    quote_id bigint not null references quote on delete cascade,
    address_hash bytea not null unique,
    created_at timestamptz not null default now(),
    expires_at timestamptz not null,
    revoked_at timestamptz
);
create index phone_link_of_quote on phone_link (quote_id);

-- What other programs may do here, and which are told what happens.
create table api_token (
    id bigint generated always as identity primary key,
    name text not null check (length(name) between 1 and 80),
    token_hash bytea not null unique,
    scopes text[] not null check (cardinality(scopes) > 0 and scopes <@ array['read', 'write', 'export', 'post']),
    created_at timestamptz not null default now(),
    last_used_at timestamptz,
    revoked_at timestamptz
);
create table webhook (
    id bigint generated always as identity primary key,
    address text not null check (length(address) between 8 and 2000),
    secret bytea not null,
    events text[] not null check (cardinality(events) > 0 and events <@ array['clip.ready', 'post.posted']),
    created_at timestamptz not null default now(),
    removed_at timestamptz
);
create table webhook_delivery (
    id uuid primary key default gen_random_uuid(),
    webhook_id bigint not null references webhook on delete cascade,
    event text not null,
    body jsonb not null,
    tries integer not null default 0,
    not_before timestamptz not null default now(),
    answered integer,
    problem text,
    created_at timestamptz not null default now(),
    delivered_at timestamptz,
    given_up_at timestamptz
);
create index webhook_delivery_waiting on webhook_delivery (not_before) where delivered_at is null and given_up_at is null;
