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

-- name: OwnersToWriteTo :many
-- To whom something is to be written by now, and whose client's they are.
select distinct o.client_id, lower(l.sent_to)::text as sent_to from owner_link l join location o on o.id = l.location_id
where l.remind_at <= sqlc.arg(now)::timestamptz order by 1, 2 limit 200;

-- name: OwnerLinksTo :many
-- All that one owner was asked for and that was not taken back, but for what ended long ago, the latest first.
select l.* from owner_link l join location o on o.id = l.location_id
where lower(l.sent_to) = lower(sqlc.arg(sent_to)::text) and l.sent_to <> '' and o.client_id = sqlc.arg(client_id)
  and l.withdrawn_at is null and coalesce(l.done_at, l.expires) > sqlc.arg(since)::timestamptz
order by l.made_at desc, l.id limit 200;

-- name: OpenOwnerPages :many
-- The private pages of a client's owner that still work.
select k.id from owner_link k join location o on o.id = k.location_id
where o.client_id = $1 and k.done_at is null and k.withdrawn_at is null and k.expires > sqlc.arg(now)::timestamptz order by k.made_at, k.id;

-- name: SetReminder :exec
update owner_link set remind_at = sqlc.narg(remind_at), reminded = $2, reminded_at = sqlc.narg(reminded_at) where id = $1;

-- name: RemindNow :exec
-- What was asked for together is written about in one letter.
update owner_link set remind_at = sqlc.arg(now)::timestamptz where id = any(sqlc.arg(ids)::uuid[]) and remind_at is not null;

-- name: TakeDueCalls :many
update owner_link l set attempt = 'asked' from (
    select id from owner_link where owner_link.call_at <= $1 and owner_link.attempt = '' and done_at is null and withdrawn_at is null limit 200 for update skip locked
) due where l.id = due.id returning l.id;

-- name: OwnersWritingFrom :many
-- The clients whose owner was written to at an address about something that has not ended, and who writes from it.
select distinct o.client_id from owner_link l join location o on o.id = l.location_id
where lower(l.sent_to) = lower(sqlc.arg(address)::text) and l.sent_to <> '' and l.withdrawn_at is null and l.done_at is null
  and l.expires > sqlc.arg(now)::timestamptz order by 1;

-- name: LetterBody :one
select body from notice where id = $1;

-- name: ForgetReminders :exec
-- Nothing is written any more about what an owner is not asked for any longer: it ended long ago, or its directory is no more.
update owner_link l set remind_at = null from location o
where o.id = l.location_id and o.client_id = sqlc.arg(client_id) and lower(l.sent_to) = sqlc.arg(sent_to)::text and l.remind_at <= sqlc.arg(now)::timestamptz;
