-- +goose Up

-- What is lost of a location depends on the date: until when what is kept of it holds.
delete from location_fit;
alter table location_fit add column until timestamptz not null;
