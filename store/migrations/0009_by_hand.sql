-- +goose Up

-- A worksheet that was begun: which values were given so far, each as it was.
create table worksheet (
    location_id  uuid not null references location,
    directory_id text not null,
    given        jsonb not null,   -- text by field
    page         text not null default '',  -- the listing's page there, as far as it was noted
    changed_by   text not null,
    changed_at   timestamptz not null,
    primary key (location_id, directory_id)
);

-- The accounts by which directories know us. Never a password.
create table account (
    id           uuid primary key,
    directory_id text not null,
    email        text not null,
    holder       text not null,   -- the name of the person who can sign in
    person_id    uuid references person,  -- where that is somebody who works here
    class        text not null default '',
    confirmed    boolean not null default false,  -- its email
    personal     boolean not null default false,  -- a person's own account stands behind it
    note         text not null default '',
    gone         boolean not null default false,  -- its holder left, and nobody else can sign in
    changed_by   text not null,
    changed_at   timestamptz not null
);
create unique index account_email on account (directory_id, lower(email));

-- Rulebooks that were written or changed here, every version of them. The newest one
-- is in force, before one that ships.
create table rulebook (
    id       text not null,
    version  int not null,
    source   text not null,
    saved_by text not null,
    saved_at timestamptz not null,
    primary key (id, version)
);
