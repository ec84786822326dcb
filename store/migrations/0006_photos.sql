-- +goose Up

-- Photos of a location or, where that is null, of all of a client's locations.
create table photo (
    id          uuid primary key,
    client_id   uuid not null references client,
    location_id uuid references location,
    kind        text not null,             -- logo, cover, exterior, interior, team, at_work, product
    position    int not null,
    file_name   text not null,
    format      text not null,
    width       int not null,
    height      int not null,
    bytes       int not null,
    hash        bigint not null,           -- perceptual
    sharpness   double precision not null,
    caption     text not null default '',
    alternative text not null default '',
    focus       jsonb not null,
    cut_for     text not null default '',  -- the shapes and the focus that its cuts were made for
    added_by    text not null,
    added_at    timestamptz not null,
    removed_at  timestamptz
);
create index photo_place on photo (client_id, location_id) where removed_at is null;

-- Files of photos and papers. They are kept in the database so that a row and its
-- file come and go in one transaction, every server sees the same, and one backup
-- holds all.
create table file (
    owner_id uuid not null,   -- a photo or a paper
    what     text not null,   -- original, screen, small, or a directory's cut
    data     bytea not null,
    primary key (owner_id, what)
);
alter table file alter column data set storage external; -- pictures do not get smaller
