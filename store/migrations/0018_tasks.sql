-- +goose Up

-- What listings ask for, as reckoned from their states, what is wanted and the clock. It
-- is kept so that the tasks of thousands can be counted and put in order; what a task
-- says is reckoned when it is shown.
create table task (
    location_id  uuid not null,
    directory_id text not null,              -- of a task of several listings: the first
    client_id    uuid not null,
    mover        text not null,              -- who can move it
    act          text not null,
    loss         double precision not null,  -- what a day of waiting loses
    title        text collate "C" not null,
    dated        boolean not null,           -- it has a moment, or a window
    together     text[] not null,            -- the directories of a task of several listings
    put_off      timestamptz,                -- until when somebody has put it off
    changes_at   timestamptz,                -- from when it is to be reckoned anew, though nothing happens
    primary key (location_id, directory_id)
);
create index task_order on task (mover, loss desc, title, location_id, directory_id);
create index task_client on task (client_id);
create index task_changes on task (changes_at) where changes_at is not null;

-- Locations whose tasks are to be reckoned anew. Every change adds a row of its own and
-- waits for nobody; a reckoning takes away those that it saw.
create table task_stale (
    id          bigint generated always as identity primary key,
    location_id uuid not null
);
create index task_stale_location on task_stale (location_id);
insert into task_stale (location_id) select id from location;

-- +goose StatementBegin
create function tasks_are_stale() returns trigger language plpgsql as $$
declare
    was record := coalesce(new, old);
begin
    insert into task_stale (location_id) values (was.location_id);
    return null;
end $$;
-- +goose StatementEnd
create trigger tasks_are_stale after insert or update on listing for each row execute function tasks_are_stale();
create trigger tasks_are_stale after insert or update on location_fit for each row execute function tasks_are_stale();
create trigger tasks_are_stale after insert or update or delete on snooze for each row execute function tasks_are_stale();
