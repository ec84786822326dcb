-- +goose Up

-- Every event says who did it, by their id, and under which version of the directory's rulebook it
-- moved the listing on; the text of each version is kept, so that the log can be replayed.
alter table event add column actor_id uuid;
alter table event add column book text;

create table rulebook_text (
    version text primary key,
    source  text not null
);

-- Events of before this carry no version; they are taken to have happened under the one that was in
-- force when this was first asked about.
create table assumed_book (
    directory_id text primary key,
    version      text not null references rulebook_text,
    until        bigint not null -- the last event of which it is assumed
);
