-- name: AddOwnerLink :one
insert into owner_link (id, kind, location_id, directory_id, attempt, sent_to, made_by, made_from, made_at, expires, remind_at, instead)
values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12) returning *;

-- name: AddOwnerToken :exec
insert into owner_token (hash, link_id) values ($1, $2) on conflict do nothing;

-- name: OwnerLinkByToken :one
select l.* from owner_link l join owner_token t on t.link_id = l.id where t.hash = $1;

-- name: LockOwnerLink :one
select * from owner_link where id = $1 for update;

-- name: OwnerLinks :many
select * from owner_link where location_id = $1 and directory_id = $2 order by made_at desc, id;

-- name: OpenOwnerLink :execrows
update owner_link set opened_at = $2 where id = $1 and opened_at is null;

-- name: FinishOwnerLink :execrows
update owner_link set done_at = $2, remind_at = null where id = $1 and done_at is null;

-- name: WithdrawOwnerLink :execrows
update owner_link set withdrawn_at = $2, remind_at = null where id = $1 and withdrawn_at is null and done_at is null;

-- name: SetOwnerCall :exec
update owner_link set call_at = $2, attempt = '' where id = $1;

-- name: CallsToCome :many
-- When owners are to be called, whoever is to call.
select call_at::timestamptz from owner_link where call_at > sqlc.arg(now)::timestamptz and attempt = '' and done_at is null and withdrawn_at is null order by call_at;

-- name: SetOwnerAttempt :exec
update owner_link set attempt = $2 where id = $1;

-- name: TakeDueReminders :many
-- Those that are to be written to by now; the next time is three days on, as long as the page opens.
update owner_link l set remind_at = case when l.remind_at + interval '3 days' < l.expires then l.remind_at + interval '3 days' end
from (select id from owner_link where owner_link.remind_at <= sqlc.arg(now)::timestamptz order by owner_link.remind_at limit 200 for update skip locked) due
where l.id = due.id and l.done_at is null and l.withdrawn_at is null and l.expires > sqlc.arg(now)::timestamptz
returning l.*;

-- name: TakeDueCalls :many
update owner_link l set attempt = 'asked' from (
    select id from owner_link where owner_link.call_at <= $1 and owner_link.attempt = '' and done_at is null and withdrawn_at is null limit 200 for update skip locked
) due where l.id = due.id returning l.id;
