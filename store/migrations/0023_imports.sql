-- +goose Up

-- A file on its way in is read once, into rows. What files of before have brought in is in the log; one that
-- was not brought in is read anew.
delete from import;
alter table import drop column outcome;
alter table import add column state text not null; -- reading, ready, bringing, in, taking_back, back or failed
alter table import add column trouble text not null default ''; -- why it failed, in words
alter table import add column done int not null default 0; -- of the rows, in what is under way
alter table import add column rows int not null default 0;
alter table import add column encoding text not null default '';
alter table import add column encodings text[] not null default '{}'; -- in which it can be read
alter table import add column delimiter text not null default '';
alter table import add column header text[] not null default '{}';
alter table import add column skipped jsonb not null default '[]';
alter table import add column edits jsonb not null default '[]'; -- what was said of rows, in order: the last is undone first
alter table import add column new_clients text[] not null default '{}'; -- that would come in with it
alter table import add column clients uuid[] not null default '{}'; -- that came in with it
alter table import add column written uuid; -- another whenever what the rows come to was written
create index import_created on import (created_at desc, id desc);

create table import_row (
    import_id uuid not null references import on delete cascade,
    line      int not null,
    cells     text[] not null,
    primary key (import_id, line)
);

-- What the rows come to, by what is there. It is worked out anew as a whole, or for some rows.
create table import_check (
    import_id   uuid not null references import on delete cascade,
    line        int not null,
    standing    text not null,
    place       int not null,           -- in the order of what needs somebody first
    without     boolean not null,
    guessed     boolean not null,
    search      text not null,          -- its business, place and what else it says, folded
    row         jsonb not null,
    location_id uuid,                   -- that it is about, or has made
    in_at       timestamptz,            -- when it came in
    primary key (import_id, line)
);
create index import_check_order on import_check (import_id, place, line);

-- What the columns of files of a shape hold, as it was last said for a client.
create table import_shape (
    client_id uuid references client on delete cascade,
    shape     text not null,
    columns   jsonb not null,
    unique nulls not distinct (client_id, shape)
);

-- Cells that could not come in, kept with their location until somebody has mended or read them.
create table remark (
    id          uuid primary key,
    location_id uuid not null references location on delete cascade,
    import_id   uuid references import on delete set null,
    fact        text not null,
    heading     text not null,
    said        text not null,
    why         text not null,
    was         text not null, -- what the record said of the fact then
    at          timestamptz not null
);
create index remark_location on remark (location_id);
alter table location_fit drop constraint location_fit_location_id_fkey;
alter table location_fit add constraint location_fit_location_id_fkey foreign key (location_id) references location on delete cascade;
alter table import drop constraint import_client_id_fkey;
alter table import add constraint import_client_id_fkey foreign key (client_id) references client on delete set null;
