-- +goose Up

-- Whose work somebody of ours is limited to: null is all clients, and none is none.
alter table person add column clients uuid[];
alter table invitation add column clients uuid[];
