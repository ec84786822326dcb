-- +goose Up

-- A region may be made of an extract of OpenStreetMap, which takes a while.
alter table region add column state text not null default 'ready'; -- reading, ready or failed
alter table region add column trouble text not null default '';    -- why it failed, in words
alter table region add column unknown int not null default 0;      -- towns of which it is not said how many live there
