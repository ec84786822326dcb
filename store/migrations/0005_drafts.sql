-- +goose Up

-- What a person is typing, as the screen keeps it.
create table draft (
    person_id uuid not null references person,
    subject   text not null,
    body      text not null,
    at        timestamptz not null,
    primary key (person_id, subject)
);

-- Which windows have a record open, by the server's own clock.
create table presence (
    location_id uuid not null references location,
    window_id   uuid not null,
    person_id   uuid not null references person,
    editing     boolean not null,
    seen_at     timestamptz not null default now(),
    primary key (location_id, window_id)
);

-- Records that change on a date.
create table plan (
    id          uuid primary key,
    location_id uuid not null references location,
    on_date     date not null,
    at          timestamptz not null,  -- when that date begins at the location
    base        jsonb not null,        -- the record that the change was made to
    record      jsonb not null,
    actor       text not null,
    created_at  timestamptz not null,
    taken       boolean not null default false,
    done_at     timestamptz,
    kept        jsonb not null default '[]'  -- titles of facts that were changed since, and stayed
);
create index plan_at on plan (at) where not taken;
create index plan_location on plan (location_id, at);
