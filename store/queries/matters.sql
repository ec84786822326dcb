-- name: Matter :one
select * from matter where id = $1;

-- name: MattersNamed :many
-- With whom each is, how many notes it has, and the last.
select m.*, coalesce(p.name, '')::text as with_name, (select count(*) from matter_note n where n.matter_id = m.id)::int as notes,
  coalesce((select n.says from matter_note n where n.matter_id = m.id order by n.id desc limit 1), '')::text as last_note
from matter m left join person p on p.id = m.with_id where m.id = any(sqlc.arg(ids)::uuid[]);

-- name: MattersOf :many
-- Of a listing, the newest first.
select * from matter where location_id = $1 and directory_id = $2 order by opened_at desc, id limit 50;

-- name: MatterNotes :many
select * from matter_note where matter_id = any(sqlc.arg(ids)::uuid[]) order by id;

-- name: AddMatterNote :exec
insert into matter_note (matter_id, at, person_id, person, says) values ($1, $2, $3, $4, $5);

-- name: HandMatter :execrows
update matter set with_id = sqlc.narg(with_id) where id = $1 and ended_at is null;

-- name: DecideMatter :exec
update matter set ended_at = $2, ended_by = $3, ended_why = $4 where id = $1 and ended_at is null;

-- name: EraseMatters :exec
-- What was said of a client's, which may name people.
delete from matter where client_id = $1;

-- name: ActOfMatter :one
select act from task where matter_id = $1;
