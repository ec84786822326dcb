-- +goose Up

-- Since when a directory is asked something, by real time, and why it was given up.
alter table call add column asked_at timestamptz not null default now();
alter table call add column given_up text not null default '';
