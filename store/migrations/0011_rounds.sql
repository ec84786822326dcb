-- +goose Up

-- One thing that is done for many listings: a search, or a proof asked for.
create table round (
    id         uuid primary key,
    what       text not null,          -- search or verify
    made_by    text not null,
    made_at    timestamptz not null,
    stopped_at timestamptz
);

create table round_item (
    round_id     uuid not null references round,
    location_id  uuid not null references location,
    directory_id text not null,
    method       text not null default '',   -- of verification
    state        text not null default 'waiting', -- waiting, asked, left (it could not be asked) or stopped
    call_id      uuid references call,
    says         text not null default '',   -- why it could not be asked
    primary key (round_id, location_id, directory_id)
);
create index round_item_listing on round_item (location_id, directory_id);
