-- name: AddImport :exec
insert into import (id, client_id, file_name, file, columns, person_id, created_at) values ($1, $2, $3, $4, $5, $6, $7);

-- name: ImportByID :one
select * from import where id = $1;

-- name: LockImport :one
select * from import where id = $1 for update;

-- name: SaveImportColumns :exec
update import set columns = $2 where id = $1;

-- name: FinishImport :exec
update import set applied_at = $2, outcome = $3 where id = $1;
