-- The part of River's table that our queries read, for sqlc alone. River's own
-- migrations make it.
create table river_job (
    id           bigint primary key,
    state        text not null,
    attempted_by text[],
    scheduled_at timestamptz not null
);
