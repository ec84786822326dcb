-- +goose Up

-- Which transaction added an event: events are sealed once none before them can still come.
alter table event add column tx xid8 not null default pg_current_xact_id();

-- A chain over the events, in the order in which they were sealed: each hash is over the one
-- before and the event.
create table event_seal (
    position bigint generated always as identity primary key,
    event_id bigint not null unique,
    hash     bytea not null
);
create trigger event_seal_is_final before update or delete or truncate on event_seal execute function event_is_final();
create index event_at on event (at desc);
