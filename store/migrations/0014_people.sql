-- +goose Up

-- What somebody may do, and until when they could. Whoever is of a client sees that
-- client's locations alone.
alter table person add column role text not null default 'administrator';
alter table person alter column role drop default;
alter table person add column client_id uuid references client;
alter table person add column ended_at timestamptz;
alter table person add column second_factor text not null default ''; -- the shared secret of RFC 6238, in base32; empty: none
alter table person add constraint person_client check ((role = 'client') = (client_id is not null));

-- Private addresses at which somebody who is invited says who they are. The hash is kept.
create table invitation (
    id           uuid primary key default gen_random_uuid(),
    hash         bytea not null unique,
    email        text not null,
    role         text not null,
    client_id    uuid references client,
    invited_by   text not null,
    at           timestamptz not null,
    expires      timestamptz not null,
    used_at      timestamptz,
    withdrawn_at timestamptz
);

-- Keys with which programs ask in somebody's name. The hash is kept.
create table api_token (
    id         uuid primary key default gen_random_uuid(),
    hash       bytea not null unique,
    person_id  uuid not null references person,
    name       text not null,
    scope      text not null,             -- see, edit or send
    at         timestamptz not null,
    used_at    timestamptz,
    ended_at   timestamptz
);
