-- +goose Up

-- Where a page does not mean what the record says, as it was reckoned last: of each listing and fact one.
create table difference (
    location_id  uuid not null references location on delete cascade,
    directory_id text not null,
    client_id    uuid not null,
    fact         text not null,
    title        text not null,
    mark         text not null,
    record       text not null,              -- as people write it
    seen         text not null,
    says         text not null,              -- what it does to customers
    cannot       text not null,              -- why it cannot be mended there; empty where it can
    people       double precision not null,  -- a week who are misled
    once         double precision not null,  -- who are on dates of the next twelve months
    rank         double precision not null,  -- by which they stand: the dearest first
    reckoned     text not null,              -- what these are reckoned from
    days         date[] not null,            -- on which it shows other hours than hold
    since_after  timestamptz,                -- the last look that saw something else
    since        timestamptz,                -- the first that saw this; null where nobody has looked
    source       text not null,              -- the directory that the value came from; "ourselves": it was not sent
    unseen       boolean not null,           -- nobody has seen it there
    parent       text not null,              -- from which the directory has it; empty for the source
    follows      date,                       -- by when at the latest it corrects itself once its source is right
    overwritten  date,                       -- by when a correction here would be undone
    standing     text not null,              -- open, sent, accepted
    primary key (location_id, directory_id, fact)
);
create index difference_order on difference (rank desc, location_id, directory_id, fact);
create index difference_client on difference (client_id);

-- A difference that is accepted as it is, as long as it shows the same.
create table acceptance (
    location_id  uuid not null references location on delete cascade,
    directory_id text not null,
    fact         text not null,
    seen         text not null,
    why          text not null,
    until        date,                       -- after which it counts again; null: for good
    by_name      text not null,
    at           timestamptz not null,
    primary key (location_id, directory_id, fact)
);

-- The facts that a round gives of a listing; empty: all that are due.
alter table round_item add column facts text[] not null default '{}';

-- All are reckoned anew, with their differences.
insert into task_stale (location_id) select id from location;
