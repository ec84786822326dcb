-- name: RulebooksInForce :many
select distinct on (id) * from rulebook order by id, version desc;

-- name: RulebookVersions :many
select * from rulebook where id = $1 order by version desc;

-- name: AddRulebook :one
insert into rulebook (id, version, source, saved_by, saved_at)
values ($1, (select coalesce(max(version), 0) + 1 from rulebook where rulebook.id = $1), $2, $3, $4) returning *;

-- name: RulebookStamp :one
select count(*)::bigint from rulebook;

-- name: Accounts :many
select * from account order by directory_id, lower(email);

-- name: AccountByID :one
select * from account where id = $1;

-- name: SaveAccount :one
insert into account (id, directory_id, email, holder, person_id, class, confirmed, personal, note, gone, changed_by, changed_at)
values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12)
on conflict (id) do update set email = excluded.email, holder = excluded.holder, person_id = excluded.person_id, class = excluded.class, confirmed = excluded.confirmed,
    personal = excluded.personal, note = excluded.note, gone = excluded.gone, changed_by = excluded.changed_by, changed_at = excluded.changed_at returning *;

-- name: DropAccount :execrows
delete from account where id = $1;

-- name: HeldByDirectory :many
select directory_id, count(*)::int as count from listing s join location l on l.id = s.location_id where control = 'held' and l.put_away_at is null group by directory_id;
