-- name: StaleTasks :many
-- Locations whose tasks are to be reckoned anew.
with stale as materialized (
    select location_id from task_stale union select location_id from task where changes_at <= sqlc.arg(now)::timestamptz
)
select l.id from stale join location l on l.id = stale.location_id
where (sqlc.narg(clients)::uuid[] is null or l.client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or l.id = sqlc.narg(location_id))
order by l.id limit sqlc.arg(most);

-- name: TakeStaleTasks :exec
delete from task_stale where location_id = any(sqlc.arg(locations)::uuid[]);

-- name: SaveTasks :exec
insert into task (location_id, directory_id, client_id, mover, act, loss, title, dated, together, put_off, changes_at)
select t.location_id, t.directory_id, t.client_id, t.mover, t.act, t.loss, t.title, t.dated, t.together, t.put_off, t.changes_at from jsonb_to_recordset(sqlc.arg(tasks)::jsonb)
    as t(location_id uuid, directory_id text, client_id uuid, mover text, act text, loss double precision, title text, dated boolean, together text[], put_off timestamptz, changes_at timestamptz);

-- name: DropTasks :exec
delete from task where location_id = any(sqlc.arg(locations)::uuid[]);

-- name: TaskCounts :many
select mover, count(*)::int as count from task
where (put_off is null or put_off <= sqlc.arg(now)::timestamptz)
  and (sqlc.narg(clients)::uuid[] is null or client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or location_id = sqlc.narg(location_id))
group by mover;

-- name: Tasks :many
-- Of those whom somebody can move, the soonest loss first.
select * from task
where mover = sqlc.arg(mover) and (put_off is null or put_off <= sqlc.arg(now)::timestamptz)
  and (sqlc.narg(clients)::uuid[] is null or client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or location_id = sqlc.narg(location_id))
order by loss desc, title, location_id, directory_id limit sqlc.arg(most) offset sqlc.arg(past);

-- name: DatedTasks :many
-- Those that have a moment or a window.
select * from task
where dated and (put_off is null or put_off <= sqlc.arg(now)::timestamptz)
  and (sqlc.narg(clients)::uuid[] is null or client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or location_id = sqlc.narg(location_id))
order by location_id, directory_id;

-- name: TasksSum :one
-- Tells whether there is anything else to do than there was.
select coalesce(md5(string_agg(location_id::text || directory_id || mover || act, ' ' order by location_id, directory_id)), '')::text from task
where (put_off is null or put_off <= sqlc.arg(now)::timestamptz)
  and (sqlc.narg(clients)::uuid[] is null or client_id = any(sqlc.narg(clients)::uuid[]));

-- name: SnoozesOf :many
select * from snooze where location_id = any(sqlc.arg(locations)::uuid[]);

-- name: ListingsAt :many
-- Of each of some locations, the listing on a directory of its own.
select l.* from listing l join (select unnest(sqlc.arg(locations)::uuid[]) as location_id, unnest(sqlc.arg(directories)::text[]) as directory_id) at
  on at.location_id = l.location_id and at.directory_id = l.directory_id;

-- name: WholeListingsOf :many
select * from listing where location_id = any(sqlc.arg(locations)::uuid[]);

-- name: LocationsNamed :many
select * from location where id = any(sqlc.arg(locations)::uuid[]);

-- name: FitsNamed :many
select * from location_fit where location_id = any(sqlc.arg(locations)::uuid[]);

-- name: MarkTasksStale :exec
insert into task_stale (location_id) select unnest(sqlc.arg(locations)::uuid[]);
