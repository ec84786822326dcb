-- The part of River's table that our queries read, for sqlc alone. River's own
-- migrations make it.
create table river_job (
    id           bigint primary key,
    kind         text not null,
    state        text not null,
    attempt      int not null,
    attempted_by text[],
    scheduled_at timestamptz not null
);
