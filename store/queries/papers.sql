-- name: AddPaper :one
insert into paper (id, client_id, location_id, kind, file_name, format, pages, bytes, words, added_by, added_at)
values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11) returning *;

-- name: Papers :many
-- Those of a location with its client's; or, without a location, the client's alone.
select * from paper
where client_id = sqlc.arg(client_id) and removed_at is null and (location_id is null or location_id = sqlc.narg(location_id))
order by added_at, id;

-- name: PaperByID :one
select * from paper where id = $1;

-- name: LockPaper :one
select * from paper where id = $1 for update;

-- name: SavePaper :one
update paper set kind = $2, issued = $3, until = $4 where id = $1 returning *;

-- name: RemovePaper :one
update paper set removed_at = $2 where id = $1 returning *;

-- name: PaperCounts :many
select client_id, location_id, kind, count(*) from paper where removed_at is null group by client_id, location_id, kind;

-- name: AllPapers :many
select * from paper where removed_at is null order by added_at, id;

-- name: SaveFilm :one
update paper set film = $2 where id = $1 returning *;
