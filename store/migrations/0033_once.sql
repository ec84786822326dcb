-- +goose Up
-- What was asked for with a key of whoever asked, and what was answered, for a day of real time.
create table asked_once (
    who      text not null, -- a person, or whoever knows a secret, hashed
    key      text not null,
    asked    bytea not null, -- SHA-256 of what is asked for
    turn     uuid not null, -- of the request that does it
    begun_at timestamptz not null default now(), -- by that request
    done     boolean not null default false, -- something of it is in the database
    status   int, -- of the answer; null: it was not given yet
    headers  jsonb not null default '{}',
    body     bytea not null default '',
    primary key (who, key)
);
create index asked_once_begun on asked_once (begun_at);

-- +goose Down
drop table asked_once;
