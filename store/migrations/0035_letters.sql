-- +goose Up
-- Letters that are written to people.
create table letter (
    id          text primary key, -- the message's own
    number      bigint not null generated always as identity,
    client_id   uuid references client on delete set null, -- whose matter it is; null: nobody's alone
    location_id uuid references location on delete set null,
    recipient   text not null,
    subject     text not null,
    mail        jsonb not null, -- as it is sent, but for a secret that it tells
    secret      jsonb,
    state       text not null default 'queued' check (state in ('queued', 'taken', 'refused', 'bounced', 'given_up')),
    says        text not null default '', -- the mail server's word, or why it was not asked
    tries       int not null default 0,
    written_at  timestamptz not null, -- by the job's clock
    real_at     timestamptz not null default now(),
    aside       boolean not null default false -- somebody has said that it needs nothing
);
create index letter_number on letter (number desc);
create index letter_open on letter (number) where state in ('refused', 'bounced', 'given_up') and not aside;
create index letter_client on letter (client_id);
create index letter_location on letter (location_id);

-- +goose StatementBegin
do $$ begin
    if to_regclass('river_job') is null then
        return;
    end if;
    -- Those that wait to be sent.
    insert into letter (id, recipient, subject, mail, secret, written_at)
    select args->'mail'->>'ID', args->'mail'->>'To', args->'mail'->>'Subject', args->'mail', args->'secret', now()
    from river_job where kind = 'mail' and args ? 'mail' and state in ('available', 'running', 'retryable', 'scheduled') on conflict do nothing;
    update river_job set args = jsonb_build_object('id', args->'mail'->>'ID') where kind = 'mail' and args ? 'mail';
end $$;
-- +goose StatementEnd

-- +goose Down
drop table letter;
