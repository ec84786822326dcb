-- +goose Up

-- What a client says for all its locations, but for its names, which have
-- columns of their own.
alter table client add column shared jsonb not null default '{}';
