-- +goose Up

-- How many cases a listing has or had, so that those in trouble are found at once.
alter table listing add column cases int not null default 0;
create index listing_cases on listing (location_id) where cases > 0;

-- Letters of directories, as they came by email.
create table notice (
    id           text primary key,      -- the message's own
    number       bigint not null,       -- its place in the mailbox
    at           timestamptz not null,  -- when it was read
    sender       text not null,
    subject      text not null,
    body         text not null,
    directory_id text,                  -- null: it is from no directory that is known
    location_id  uuid references location, -- null: it could not be told which listing it is about
    put_aside    boolean not null default false -- somebody has said that it needs nothing
);
create index notice_open on notice (number) where location_id is null and not put_aside;
create index notice_number on notice (number desc);
