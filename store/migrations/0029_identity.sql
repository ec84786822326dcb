-- +goose Up

-- Tries at something that can be guessed, by what is tried and from where.
drop table sign_in_failure;
create table try (
    key    text primary key,
    failed int not null,
    last   timestamptz not null
);

-- Browsers in which somebody has signed in.
create table known_browser (
    hash      bytea primary key,
    person_id uuid not null references person on delete cascade,
    used_at   timestamptz not null
);

create table password_reset (
    id        uuid primary key,
    hash      bytea not null unique,
    person_id uuid not null references person on delete cascade,
    at        timestamptz not null,
    expires   timestamptz not null,
    used_at   timestamptz
);

-- A key works for a time; those from before for a year.
alter table api_token add column expires timestamptz;
update api_token set expires = at + interval '365 days';
alter table api_token alter column expires set not null;

-- Second factors, sealed with a key that is not kept here. Those of before are sealed when the server starts.
alter table person
    add column factor          bytea,                       -- the secret of an app's codes; null: none
    add column factor_step     bigint not null default 0,   -- the last that was used, in half minutes since 1970
    add column factor_begun    bytea,                       -- one that is not confirmed yet
    add column factor_begun_at timestamptz,
    add column passkeys        int not null default 0;      -- how many they have

create table recovery_code (
    person_id uuid not null references person on delete cascade,
    hash      bytea not null,
    used_at   timestamptz,
    primary key (person_id, hash)
);

create table passkey (
    id         uuid primary key,
    person_id  uuid not null references person on delete cascade,
    name       text not null,
    credential bytea not null unique,   -- its id (WebAuthn, section 4)
    data       jsonb not null,          -- its public key, and how often it has signed
    at         timestamptz not null,
    used_at    timestamptz
);
create index passkey_person on passkey (person_id);

-- What a role takes.
create table role_rule (
    role          text primary key,
    second_factor boolean not null
);
