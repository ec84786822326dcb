-- The stand-ins' own world. Nothing of Uvent's is here.

create table if not exists clock (
    one    boolean primary key default true check (one),
    ahead  bigint not null,             -- microseconds ahead of the real clock
    demo   boolean not null,            -- begun at a time of its own; stands still while the outside is down
    seen   timestamptz not null         -- about when the outside last ran, by this clock
);

create table if not exists setting (
    one     boolean primary key default true check (one),
    value   jsonb not null
);
insert into setting (value) values ('{}') on conflict do nothing;

create table if not exists listing (
    ref          text primary key,
    directory    text not null,
    slug         text not null,
    facts        jsonb not null,
    holder       text not null default '',  -- the account that holds it; empty when nobody does
    verified_at  timestamptz,
    public_at    timestamptz,
    late_days    int not null default 0,    -- published so many days after the directory's own window
    known        boolean not null default false, -- there before anybody created it
    unique (directory, slug)
);

create table if not exists verification (
    id         text primary key,
    ref        text not null references listing,
    method     text not null,
    code       text not null,
    asked_at   timestamptz not null,
    expires    timestamptz not null,
    tries_left int not null,
    ended      text not null default '', -- why it can be used no more; empty while it can
    says       text not null default ''  -- what is said of a decision
);
create index if not exists verification_ref on verification (ref);

-- What will happen, in the order of its time.
create table if not exists due (
    id   text primary key,
    at   timestamptz not null,
    what text not null,
    data jsonb not null
);
create index if not exists due_at on due (at);

-- Answers given, by idempotency key, so that a request sent again gets the same one.
create table if not exists answer (
    key    text primary key,
    asked  text not null,
    status int not null,
    body   bytea not null
);

create table if not exists phone (
    number   text primary key,  -- E.164
    landline boolean not null,
    hours    text not null,     -- opening_hours in which somebody picks up; empty for always
    zone     text not null
);

-- What reached the world's letter boxes, phones and inboxes.
create table if not exists arrival (
    id      text primary key,
    at      timestamptz not null,
    kind    text not null,      -- letter, call, missed_call, text, lost_text, mail
    place   text not null,      -- the address, number or email it reached
    sender  text not null,
    title   text not null,
    body    text not null
);
create index if not exists arrival_at on arrival (at desc);

-- Pages of the world's websites that do not answer as they should; all others do.
create table if not exists site (
    address text primary key,  -- host and path: nettlewick.example/gift
    status  int not null,
    leads   text not null      -- where it sends a visitor; empty: nowhere
);

-- Photos as directories show them.
create table if not exists photo (
    ref     text not null references listing,
    id      text not null,      -- the giver's
    place   text not null,
    caption text not null,
    tag     text not null,
    data    bytea not null,
    at      timestamptz not null,
    primary key (ref, id, place)
);

alter table listing add column if not exists suspended jsonb;  -- why, while it is
alter table listing add column if not exists withdrawn boolean not null default false;
alter table listing add column if not exists state text not null default '';  -- closed_for_a_time, closed_for_good, moved; empty: open
alter table listing add column if not exists merged boolean not null default false; -- into another, which it was a duplicate of

-- Who may act for a listing besides its holder.
create table if not exists role (
    ref     text not null references listing,
    account text not null,
    role    text not null,
    primary key (ref, account)
);

-- What a directory's people, or a listing's holder, are to decide.
create table if not exists request (
    id       text primary key,
    ref      text not null references listing,
    kind     text not null,      -- change, suggestion, access, escalation, appeal
    account  text not null,
    data     jsonb not null,
    asked_at timestamptz not null,
    state    text not null default 'in_review',
    says     text not null default ''
);
alter table request add column if not exists final boolean not null default false; -- nothing else is heard on it
create index if not exists request_ref on request (ref);

-- What businesses say through their listings.
create table if not exists said (
    id   text primary key,
    ref  text not null references listing,
    at   timestamptz not null,
    body jsonb not null
);
create index if not exists said_ref on said (ref);

create table if not exists opinion (
    ref   text not null references listing,
    at    timestamptz not null,
    who   text not null,
    stars int not null,
    body  text not null
);

-- Where people live.
create table if not exists people (
    town      text primary key,
    latitude  double precision not null,
    longitude double precision not null,
    count     int not null
);

-- Addresses to which no mail can be brought.
create table if not exists nowhere (
    address text primary key
);

-- The order in which things reached a place, for whoever reads a mailbox.
alter table arrival add column if not exists number bigint generated always as identity;
create index if not exists arrival_place on arrival (place, number);

-- A message as it came, where it came by SMTP.
alter table arrival add column if not exists raw text not null default '';
