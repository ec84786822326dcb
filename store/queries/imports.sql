-- name: AddImport :exec
insert into import (id, client_id, file_name, file, columns, person_id, created_at, state) values ($1, $2, $3, $4, '[]', $5, $6, 'reading');

-- name: ImportByID :one
select * from import where id = $1;

-- name: LockImport :one
select * from import where id = $1 for update;

-- name: Imports :many
-- The latest first, after one.
select i.id, i.client_id, i.file_name, i.state, i.trouble, i.rows, i.done, i.created_at, p.name as person from import i join person p on p.id = i.person_id
where (sqlc.narg(client_id)::uuid is null or i.client_id = sqlc.narg(client_id))
  and (sqlc.narg(before)::timestamptz is null or (i.created_at, i.id) < (sqlc.narg(before)::timestamptz, sqlc.narg(before_id)::uuid))
order by i.created_at desc, i.id desc limit sqlc.arg(most);

-- name: SetImportState :exec
update import set state = $2, trouble = $3, done = 0 where id = $1;

-- name: SetImportDone :exec
update import set done = $2 where id = $1;

-- name: SetImportRead :exec
update import set encoding = $2, encodings = $3, delimiter = $4, header = $5, skipped = $6, columns = $7, rows = $8 where id = $1;

-- name: SetImportColumns :exec
update import set columns = $2 where id = $1;

-- name: SetImportEdits :exec
update import set edits = $2 where id = $1;

-- name: SetImportWritten :exec
update import set new_clients = $2, written = $3 where id = $1;

-- name: CountImports :many
-- How many rows of some files stand how.
select import_id, standing, without, guessed, in_at is not null as is_in, count(*)::int as count from import_check
where import_id = any(sqlc.arg(ids)::uuid[]) group by 1, 2, 3, 4, 5;

-- name: FinishImport :exec
update import set state = 'in', applied_at = $2, done = rows where id = $1;

-- name: DropImportRows :exec
delete from import_row where import_id = $1;

-- name: CopyImportRows :copyfrom
insert into import_row (import_id, line, cells) values ($1, $2, $3);

-- name: ImportRows :many
select line, cells from import_row where import_id = $1 order by line;

-- name: DropImportChecks :exec
-- Those of rows that have not come in.
delete from import_check where import_id = $1 and in_at is null;

-- name: CopyImportChecks :copyfrom
insert into import_check (import_id, line, standing, place, without, guessed, search, row, location_id) values ($1, $2, $3, $4, $5, $6, $7, $8, $9);

-- name: ImportChecks :many
-- A page of rows, what needs somebody first, after one.
select * from import_check
where import_id = sqlc.arg(import_id) and (place, line) > (sqlc.arg(after_place)::int, sqlc.arg(after_line)::int)
  and (sqlc.narg(standings)::text[] is null or standing = any(sqlc.narg(standings)))
  and (sqlc.narg(without)::boolean is null or without = sqlc.narg(without))
  and (sqlc.narg(guessed)::boolean is null or guessed = sqlc.narg(guessed))
  and (sqlc.arg(search)::text = '' or strpos(search, sqlc.arg(search)::text) > 0)
order by place, line limit sqlc.arg(most);

-- name: ImportReadings :many
-- Cells that say the same and were read the same, guesses first.
select g.key::text as key, g.heading::text as heading, g.said::text as said, g.read_as::text as read_as, g.sure, count(*)::int as cells, min(g.line)::int as line from (
    select c.line, r->>'key' as key, r->>'column' as heading, r->>'from' as said, r->>'to' as read_as, (r->>'sure')::boolean as sure
    from import_check c, jsonb_array_elements(c.row->'readings') r
    where c.import_id = sqlc.arg(import_id) and c.standing <> 'out'
) g group by 1, 2, 3, 4, 5 order by g.sure, 6 desc, 2, 3 limit sqlc.arg(most);

-- name: ImportFaults :many
-- Cells that say the same and are left out for the same reason.
select g.key::text as key, g.heading::text as heading, g.said::text as said, g.why::text as why, g.stays_out, count(*)::int as cells, min(g.line)::int as line from (
    select c.line, p->>'key' as key, p->>'column' as heading, p->>'value' as said, p->>'reason' as why, (p->>'left')::boolean as stays_out
    from import_check c, jsonb_array_elements(c.row->'problems') p
    where c.import_id = sqlc.arg(import_id) and c.standing <> 'out'
) g group by 1, 2, 3, 4, 5 order by g.stays_out, 6 desc, 2, 3 limit sqlc.arg(most);

-- name: ImportChecksToCome :many
-- Those that are still to come in.
select * from import_check where import_id = sqlc.arg(import_id) and standing in ('new', 'changed') and in_at is null order by line limit sqlc.arg(most) for update;

-- name: ImportChecksIn :many
select * from import_check where import_id = $1 and in_at is not null order by line;

-- name: CountImportIn :one
select count(*)::int from import_check where import_id = $1 and in_at is not null;

-- name: SetImportCheckIn :exec
update import_check c set in_at = sqlc.arg(at)::timestamptz, location_id = t.location_id
from (select unnest(sqlc.arg(lines)::int[]) as line, unnest(sqlc.arg(locations)::uuid[]) as location_id) t
where c.import_id = sqlc.arg(import_id) and c.line = t.line;

-- name: ShapeColumns :one
select columns from import_shape where client_id is not distinct from sqlc.narg(client_id) and shape = sqlc.arg(shape);

-- name: SaveShapeColumns :exec
insert into import_shape (client_id, shape, columns) values (sqlc.narg(client_id), sqlc.arg(shape), sqlc.arg(columns))
on conflict (client_id, shape) do update set columns = excluded.columns;

-- name: CopyRemarks :copyfrom
insert into remark (id, location_id, import_id, fact, heading, said, why, was, at) values ($1, $2, $3, $4, $5, $6, $7, $8, $9);

-- name: Remarks :many
select r.*, coalesce(i.file_name, '')::text as file_name from remark r left join import i on i.id = r.import_id
where r.location_id = $1 order by r.at, r.heading, r.id;

-- name: DropRemark :execrows
delete from remark where id = $1 and location_id = $2;

-- name: BegunLocations :many
-- Those of some locations for which something was begun, or whose record is not what an import left.
select l.id, l.label from location l join (select unnest(sqlc.arg(ids)::uuid[]) as id, unnest(sqlc.arg(versions)::int[]) as version) t on t.id = l.id
where l.version <> t.version
   or exists (select from listing where location_id = l.id) or exists (select from call where location_id = l.id)
   or exists (select from worksheet where location_id = l.id) or exists (select from plan where location_id = l.id)
   or exists (select from photo where location_id = l.id) or exists (select from paper where location_id = l.id)
   or exists (select from owner_link where location_id = l.id) or exists (select from choice where location_id = l.id)
   or exists (select from snooze where location_id = l.id) or exists (select from round_item where location_id = l.id)
   or exists (select from notice where location_id = l.id) or exists (select from feed where location_id = l.id)
order by lower(l.label), l.id;

-- name: DropLocations :exec
delete from location where id = any(sqlc.arg(ids)::uuid[]);

-- name: DropPresenceOf :exec
delete from presence where location_id = any(sqlc.arg(ids)::uuid[]);

-- name: DropTaskMarks :exec
delete from task_stale where location_id = any(sqlc.arg(ids)::uuid[]);

-- name: AddImportClients :exec
update import set clients = clients || sqlc.arg(ids)::uuid[] where id = sqlc.arg(id);

-- name: DropClientsWithoutLocations :many
-- Those of some clients that have nothing.
delete from client c where c.id = any(sqlc.arg(ids)::uuid[]) and not exists (select from location where client_id = c.id)
  and not exists (select from photo where client_id = c.id) and not exists (select from paper where client_id = c.id)
  and not exists (select from person where client_id = c.id) and not exists (select from invitation where client_id = c.id)
  and not exists (select from feed where client_id = c.id)
returning c.id;

-- name: DropImportChecksAt :exec
delete from import_check where import_id = sqlc.arg(import_id) and line = any(sqlc.arg(lines)::int[]);

-- name: ForgetImportIn :exec
update import_check set in_at = null where import_id = $1;

-- name: ForgetImportClients :exec
update import set clients = '{}', applied_at = null where id = $1;

-- name: FirstImportRows :many
select line, cells from import_row where import_id = sqlc.arg(import_id) order by line limit sqlc.arg(most);

-- name: ImportLinesIn :many
select line from import_check where import_id = $1 and in_at is not null;

-- name: CountImportToCome :one
select count(*)::int from import_check where import_id = $1 and standing in ('new', 'changed') and in_at is null;

-- name: ChangedSince :many
-- Those of some locations that are not as an import left them.
select l.id, l.label from location l join (select unnest(sqlc.arg(ids)::uuid[]) as id, unnest(sqlc.arg(versions)::int[]) as version) t on t.id = l.id
where l.version <> t.version order by lower(l.label), l.id;

-- name: ImportChecksAt :many
select * from import_check where import_id = sqlc.arg(import_id) and line = any(sqlc.arg(lines)::int[]);

-- name: ImportRest :many
-- Rows that are not in, or are without a cell, with what they say.
select c.line, r.cells, c.row, c.standing, c.without from import_check c join import_row r on r.import_id = c.import_id and r.line = c.line
where c.import_id = sqlc.arg(import_id) and c.line > sqlc.arg(after_line)::int and (c.standing in ('decide', 'waits', 'out') or c.without)
order by c.line limit sqlc.arg(most);
