-- +goose Up

create table person (
    id            uuid primary key default gen_random_uuid(),
    email         text not null,
    name          text not null,
    initials      text not null,
    zone          text not null,
    password_hash text not null
);
create unique index person_email on person (lower(email));

create table sessions (
    token  text primary key,
    data   bytea not null,
    expiry timestamptz not null
);
create index sessions_expiry on sessions (expiry);

-- Failed tries to sign in, by email and by network address.
create table sign_in_failure (
    key text not null,
    at  timestamptz not null
);
create index sign_in_failure_key on sign_in_failure (key, at);

create table client (
    id          uuid primary key default gen_random_uuid(),
    name        text not null,
    legal_name  text not null default '',
    owner_name  text not null default '',
    owner_email text not null default '',
    version     int not null default 1
);
create unique index client_name on client (lower(name));

create table location (
    id         uuid primary key,
    client_id  uuid not null references client,
    label      text not null,
    store_code text not null,
    record     jsonb not null,
    version    int not null default 1
);
create unique index location_label on location (client_id, lower(label));
create unique index location_store_code on location (client_id, lower(store_code)) where store_code <> '';

-- What happened. Rows are added and never changed. They name clients and
-- locations without a foreign key: a log holds for itself.
create table event (
    id           bigint generated always as identity primary key,
    at           timestamptz not null,                -- by the job's clock
    recorded_at  timestamptz not null default now(),  -- by the server's
    actor        text not null,
    client_id    uuid,
    location_id  uuid,
    directory_id text,
    kind         text not null,
    data         jsonb not null
);
create index event_listing on event (location_id, directory_id, id);

-- +goose StatementBegin
create function event_is_final() returns trigger language plpgsql as $$
begin
    raise exception 'events are added, never changed or deleted';
end $$;
-- +goose StatementEnd
create trigger event_is_final before update or delete or truncate on event execute function event_is_final();

-- The present state of a listing, derived from its events in the transaction
-- that adds them.
create table listing (
    location_id  uuid not null references location,
    directory_id text not null,
    control      text not null,
    verification text not null,
    visibility   text not null,
    state        jsonb not null,
    primary key (location_id, directory_id)
);

-- A request to a directory. Its id is the idempotency key.
create table call (
    id           uuid primary key,
    location_id  uuid not null references location,
    directory_id text not null,
    kind         text not null,
    payload      jsonb not null,
    tries        int not null default 0,
    done_at      timestamptz
);
-- A listing is asked one thing at a time.
create unique index call_pending on call (location_id, directory_id) where done_at is null;

-- What falls due by the job's clock. One that was taken is with a job, which
-- lays the listing's deadlines anew.
create table deadline (
    location_id  uuid not null references location,
    directory_id text not null,
    kind         text not null,
    at           timestamptz not null,
    taken        boolean not null default false,
    primary key (location_id, directory_id, kind)
);
create index deadline_at on deadline (at) where not taken;

create table import (
    id         uuid primary key,
    client_id  uuid references client,
    file_name  text not null,
    file       bytea not null,
    columns    jsonb not null,
    person_id  uuid not null references person,
    created_at timestamptz not null,
    applied_at timestamptz,
    outcome    jsonb
);
