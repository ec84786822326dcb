-- +goose Up

-- A private page through which an owner does one thing, without an account.
create table owner_link (
    id           uuid primary key,
    kind         text not null,           -- code, paper or call
    location_id  uuid not null references location,
    directory_id text not null,
    attempt      text not null default '',  -- the one whose code is to be entered
    sent_to      text not null default '',  -- the email it was sent to; empty where it was handed on otherwise
    made_by      text not null,
    made_from    text not null,             -- the email of whoever made it
    made_at      timestamptz not null,
    expires      timestamptz not null,
    opened_at    timestamptz,
    done_at      timestamptz,
    withdrawn_at timestamptz,
    call_at      timestamptz,               -- when the owner wants to be called
    remind_at    timestamptz                -- when the owner is written to next; none: not any more
);
create index owner_link_listing on owner_link (location_id, directory_id);
create index owner_link_remind on owner_link (remind_at) where remind_at is not null;
create index owner_link_call on owner_link (call_at) where call_at is not null and attempt = '';

-- The secrets that open a page, hashed (SHA-256): the first, and one in each reminder.
create table owner_token (
    hash    bytea primary key,
    link_id uuid not null references owner_link
);
