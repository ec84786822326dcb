-- +goose Up

-- A listing knows since when it is out of view.
update listing l set state = jsonb_set(l.state, '{withdrawn_at}', to_jsonb(
    regexp_replace(to_char(e.at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US'), '\.?0+$', '') || 'Z'))
from (select distinct on (location_id, directory_id) location_id, directory_id, at from event where kind = 'withdrawn_there'
    order by location_id, directory_id, id desc) e
where e.location_id = l.location_id and e.directory_id = l.directory_id and l.visibility = 'withdrawn';

-- What wants a person, or is waited for. It is kept while it lasts and afterwards, with what people said of it, whom it was
-- handed to, and how it ended.
create table matter (
    id           uuid primary key default gen_random_uuid(),
    location_id  uuid not null,
    directory_id text not null,
    client_id    uuid not null,
    kind         text not null,             -- an agenda.Kind
    cause        text not null default '',  -- tells one of a kind from another of the same listing
    title        text not null,             -- as it was last called
    opened_at    timestamptz not null,
    with_id      uuid references person,    -- whom it was handed to; null: nobody
    ended_at     timestamptz,
    ended_by     text not null default '',  -- who decided so; empty: what it wanted came to be
    ended_why    text not null default ''
);
create unique index matter_open on matter (location_id, directory_id, kind, cause) where ended_at is null;
create index matter_of on matter (location_id, directory_id, opened_at desc);

create table matter_note (
    id        bigint generated always as identity primary key,
    matter_id uuid not null references matter on delete cascade,
    at        timestamptz not null,
    person_id uuid references person,
    person    text not null,
    says      text not null
);
create index matter_note_of on matter_note (matter_id, id);

-- Tasks are reckoned anew, each with its matter.
delete from task;
alter table task
    add column matter_id uuid not null,
    add column kind text not null,
    add column cause text not null,
    add column until timestamptz,       -- when something is lost, or what is waited for ends
    add column fold text not null,      -- what is done once together
    add column minutes double precision not null;
create index task_fold on task (mover, fold);
insert into task_stale (location_id) select id from location;

-- What an owner is asked for changes what a listing asks of us.
create trigger tasks_are_stale after insert or update on owner_link for each row execute function tasks_are_stale();
-- +goose Down
select 1;
