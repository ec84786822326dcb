-- name: AddPhoto :one
insert into photo (id, client_id, location_id, kind, position, file_name, format, width, height, bytes, hash, sharpness, focus, caption, alternative, added_by, added_at)
values ($1, $2, $3, $4, (select coalesce(max(position), 0) + 1 from photo where client_id = $2), $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16) returning *;

-- name: Photos :many
-- Those of a location with its client's; or, without a location, the client's alone.
select * from photo
where client_id = sqlc.arg(client_id) and removed_at is null and (location_id is null or location_id = sqlc.narg(location_id))
order by position, id;

-- name: PhotosOfClient :many
select * from photo where client_id = $1 and removed_at is null;

-- name: PhotoByID :one
select * from photo where id = $1;

-- name: LockPhoto :one
select * from photo where id = $1 for update;

-- name: LockPhotos :exec
-- In one order, whoever locks them.
select from photo where id = any(sqlc.arg(photos)::uuid[]) order by id for update;

-- name: SavePhoto :one
update photo set kind = $2, caption = $3, alternative = $4, focus = $5 where id = $1 returning *;

-- name: PlacePhoto :execrows
update photo set position = $3 where id = $1 and client_id = $2;

-- name: RemovePhoto :one
update photo set removed_at = $2 where id = $1 returning *;

-- name: PhotoCut :exec
update photo set cut_for = $2 where id = $1;

-- name: SaveFile :exec
insert into file (owner_id, what, data) values ($1, $2, $3) on conflict (owner_id, what) do update set data = $3;

-- name: File :one
select data from file where owner_id = $1 and what = $2;

-- name: DropCuts :exec
delete from file where owner_id = $1 and what like 'cut %';

-- name: PhotoCounts :many
select client_id, location_id, kind, count(*) from photo where removed_at is null group by client_id, location_id, kind;
