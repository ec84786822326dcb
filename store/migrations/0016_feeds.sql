-- +goose Up

-- Private addresses at which a calendar reads somebody's deadlines. The hash is kept.
create table feed (
    id          uuid primary key default gen_random_uuid(),
    hash        bytea not null unique,
    person_id   uuid not null references person,
    client_id   uuid references client,     -- of one client's; or
    location_id uuid references location,   -- of one location's; neither: of all
    at          timestamptz not null,
    ended_at    timestamptz
);

-- When in the day somebody is written to, by the clock of their zone; null: never.
alter table person add column digest_minute int check (digest_minute between 0 and 1439);

-- One for each person and day, so that two servers send one; not sent where nothing had
-- changed.
create table digest (
    person_id uuid not null references person,
    on_date   date not null,
    hash      bytea not null,  -- of what it says
    sent      boolean not null,
    primary key (person_id, on_date)
);

-- Tasks that somebody has put off, and why. It is a listing's: another task of it shows.
create table snooze (
    location_id  uuid not null references location,
    directory_id text not null,
    act          text not null,
    until        timestamptz not null,
    reason       text not null,
    by           text not null,
    primary key (location_id, directory_id)
);
