-- +goose Up

-- What was heard from each window that ticks a worksheet, by number: a request that its page gave up may
-- still arrive, after the one that the page sent in its place.
alter table worksheet add column heard jsonb not null default '{}'; -- the highest number by window
