-- name: Worksheet :one
select * from worksheet where location_id = $1 and directory_id = $2;

-- name: LockWorksheet :one
select * from worksheet where location_id = $1 and directory_id = $2 for update;

-- name: SaveWorksheet :exec
insert into worksheet (location_id, directory_id, given, page, heard, changed_by, changed_at) values ($1, $2, $3, $4, $5, $6, $7)
on conflict (location_id, directory_id) do update set given = excluded.given, page = excluded.page, heard = excluded.heard, changed_by = excluded.changed_by, changed_at = excluded.changed_at;

-- name: DropWorksheet :exec
delete from worksheet where location_id = $1 and directory_id = $2;

-- name: LastGivens :many
-- The same of all listings of some locations.
select distinct on (location_id, directory_id) * from event
where location_id = any(sqlc.arg(locations)::uuid[]) and directory_id is not null and kind in ('given', 'created', 'copied', 'sent') order by location_id, directory_id, id desc;

-- name: LastGiven :one
select * from event where location_id = $1 and directory_id = $2 and kind in ('given', 'created', 'copied', 'sent') order by id desc limit 1;
