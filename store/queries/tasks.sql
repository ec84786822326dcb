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

-- name: OpenMatters :exec
-- What is asked for and was not before becomes a matter.
insert into matter (location_id, directory_id, client_id, kind, cause, title, opened_at)
select t.location_id, t.directory_id, t.client_id, t.kind, t.cause, t.title,
  case when t.since > '0001-01-02' then least(t.since, sqlc.arg(now)::timestamptz) else sqlc.arg(now)::timestamptz end from jsonb_to_recordset(sqlc.arg(tasks)::jsonb)
    as t(location_id uuid, directory_id text, client_id uuid, kind text, cause text, title text, since timestamptz)
on conflict (location_id, directory_id, kind, cause) where ended_at is null do update set title = excluded.title where matter.title <> excluded.title;

-- name: EndMatters :exec
-- What is not asked for any more has come to be.
update matter m set ended_at = sqlc.arg(now)::timestamptz where m.ended_at is null and m.location_id = any(sqlc.arg(locations)::uuid[]) and not exists (
    select from jsonb_to_recordset(sqlc.arg(tasks)::jsonb) as t(location_id uuid, directory_id text, kind text, cause text)
    where t.location_id = m.location_id and t.directory_id = m.directory_id and t.kind = m.kind and t.cause = m.cause);

-- name: SaveTasks :exec
insert into task (location_id, directory_id, client_id, mover, act, loss, title, dated, together, put_off, changes_at, matter_id, kind, cause, until, fold, minutes)
select t.location_id, t.directory_id, t.client_id, t.mover, t.act, t.loss, t.title, t.dated, t.together, t.put_off, t.changes_at, m.id, t.kind, t.cause, t.until, t.fold, t.minutes
from jsonb_to_recordset(sqlc.arg(tasks)::jsonb)
    as t(location_id uuid, directory_id text, client_id uuid, mover text, act text, loss double precision, title text, dated boolean, together text[], put_off timestamptz,
        changes_at timestamptz, kind text, cause text, until timestamptz, fold text, minutes double precision)
join matter m on m.location_id = t.location_id and m.directory_id = t.directory_id and m.kind = t.kind and m.cause = t.cause and m.ended_at is null;

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

-- name: Folds :many
-- What is done once, that which loses most by waiting first: past a loss and a fold, of whom somebody can move. Of each fold
-- its first task is looked for only once it is known which folds are shown.
with shown as (
  select t.fold, count(*)::int as count, min(t.title) as title, max(t.loss) as most, sum(t.minutes) as minutes, min(t.until) as until,
    count(distinct t.client_id)::int as clients, count(distinct t.location_id)::int as locations
  from task t
  where t.mover = sqlc.arg(mover) and (t.put_off is null or t.put_off <= sqlc.arg(now)::timestamptz)
    and (sqlc.narg(clients)::uuid[] is null or t.client_id = any(sqlc.narg(clients)::uuid[]))
    and (sqlc.narg(location_id)::uuid is null or t.location_id = sqlc.narg(location_id))
    and (sqlc.arg(directory)::text = '' or t.directory_id = sqlc.arg(directory) or sqlc.arg(directory) = any(t.together))
    and (sqlc.narg(with_id)::uuid is null or exists (select from matter m where m.id = t.matter_id and m.with_id = sqlc.narg(with_id)))
    and (sqlc.arg(search)::text = '' or exists (select from location l join client c on c.id = l.client_id
      where l.id = t.location_id and strpos(lower(t.title || ' ' || l.label || ' ' || c.name), lower(sqlc.arg(search))) > 0))
  group by t.fold
  having sqlc.arg(past_fold)::text = '' or (-max(t.loss), min(t.title), t.fold) > (-sqlc.arg(past_loss)::float8, sqlc.arg(past_title)::text collate "C", sqlc.arg(past_fold))
  order by max(t.loss) desc, min(t.title), t.fold limit sqlc.arg(most)
)
select shown.fold, shown.count, shown.title::text as title, shown.most::float8 as most, shown.minutes::float8 as minutes,
  (coalesce(shown.until, '0001-01-01 00:00:00Z'))::timestamptz as until, shown.clients, shown.locations, f.location_id, f.directory_id
from shown, lateral (
  select t.location_id, t.directory_id from task t
  where t.fold = shown.fold and t.mover = sqlc.arg(mover) and (t.put_off is null or t.put_off <= sqlc.arg(now)::timestamptz)
    and (sqlc.narg(clients)::uuid[] is null or t.client_id = any(sqlc.narg(clients)::uuid[]))
    and (sqlc.narg(location_id)::uuid is null or t.location_id = sqlc.narg(location_id))
    and (sqlc.arg(directory)::text = '' or t.directory_id = sqlc.arg(directory) or sqlc.arg(directory) = any(t.together))
    and (sqlc.narg(with_id)::uuid is null or exists (select from matter m where m.id = t.matter_id and m.with_id = sqlc.narg(with_id)))
    and (sqlc.arg(search)::text = '' or exists (select from location l join client c on c.id = l.client_id
      where l.id = t.location_id and strpos(lower(t.title || ' ' || l.label || ' ' || c.name), lower(sqlc.arg(search))) > 0))
  order by t.loss desc, t.title, t.location_id, t.directory_id limit 1
) f
order by shown.most desc, shown.title, shown.fold;

-- name: FoldTasks :many
-- The tasks of one row, in the order of what they lose.
select t.* from task t
where t.fold = sqlc.arg(fold) and t.mover = sqlc.arg(mover) and (t.put_off is null or t.put_off <= sqlc.arg(now)::timestamptz)
  and (sqlc.narg(clients)::uuid[] is null or t.client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or t.location_id = sqlc.narg(location_id))
  and (sqlc.arg(directory)::text = '' or t.directory_id = sqlc.arg(directory) or sqlc.arg(directory) = any(t.together))
  and (sqlc.narg(with_id)::uuid is null or exists (select from matter m where m.id = t.matter_id and m.with_id = sqlc.narg(with_id)))
  and (sqlc.arg(search)::text = '' or exists (select from location l join client c on c.id = l.client_id
    where l.id = t.location_id and strpos(lower(t.title || ' ' || l.label || ' ' || c.name), lower(sqlc.arg(search))) > 0))
order by t.loss desc, t.title, t.location_id, t.directory_id limit sqlc.arg(most) offset sqlc.arg(past);

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

-- name: OwnerPagesOf :many
-- By which the owner of each listing was asked last, unless it was used or shut.
select distinct on (location_id, directory_id) * from owner_link
where location_id = any(sqlc.arg(locations)::uuid[]) and done_at is null and withdrawn_at is null order by location_id, directory_id, made_at desc;

-- name: TasksAt :many
select t.* from task t join (select unnest(sqlc.arg(locations)::uuid[]) as location_id, unnest(sqlc.arg(directories)::text[]) as directory_id) at
  on at.location_id = t.location_id and at.directory_id = t.directory_id;
