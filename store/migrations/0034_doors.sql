-- +goose Up
-- How a directory's interface answers, by real time.
create table door (
    directory_id  text primary key,
    failures      int not null default 0, -- in a row
    silent_since  timestamptz,
    alone_until   timestamptz, -- until when it is left alone
    answered_at   timestamptz,
    says          text not null default '' -- why there was no answer
);
-- What it is entered with. The secrets are sealed with a key that is not in the database.
create table credential (
    directory_id text primary key,
    manner       text not null check (manner in ('bearer', 'basic', 'oauth2')),
    url          text not null, -- of the interface that it is for, and goes to no other
    sealed       bytea not null,
    expires      timestamptz, -- when the token that is at hand ends, by real time; null: it is not known, or there is none
    set_by       text not null,
    set_at       timestamptz not null
);

-- +goose Down
drop table credential;
drop table door;
