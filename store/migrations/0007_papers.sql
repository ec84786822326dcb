-- +goose Up

-- Papers of a location or, where that is null, of all of a client's locations.
create table paper (
    id          uuid primary key,
    client_id   uuid not null references client,
    location_id uuid references location,
    kind        text not null,
    file_name   text not null,
    issued      text not null default '',  -- 2026-11-24
    until       text not null default '',  -- last date it holds
    format      text not null,
    pages       int not null,
    bytes       int not null,
    words       text not null,             -- what it says, as it was read
    added_by    text not null,
    added_at    timestamptz not null,
    removed_at  timestamptz
);
create index paper_place on paper (client_id, location_id) where removed_at is null;
