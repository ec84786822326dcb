-- name: Door :one
select failures, silent_since, alone_until, answered_at, says, coalesce(greatest(0, extract(epoch from alone_until - now())), 0)::float8 as alone_for from door where directory_id = $1;

-- name: TakeProbe :execrows
-- One of those who wait may ask whether it answers again.
update door set alone_until = now() + make_interval(secs => @probes) where directory_id = @directory_id and alone_until <= now();

-- name: DoorAnswered :one
insert into door (directory_id, answered_at) values ($1, now())
on conflict (directory_id) do update set failures = 0, silent_since = null, alone_until = null, answered_at = now(), says = ''
where door.failures > 0 or door.answered_at is null or door.answered_at < now() - interval '5 seconds' -- many ask at once
returning coalesce((select failures > 0 from door d where d.directory_id = $1), false)::bool as was_silent;

-- name: DoorSilent :one
-- Of several who heard nothing at once, one counts: they began before it was left alone.
insert into door as d (directory_id, failures, silent_since, says) values (@directory_id, 1, now(), @says)
on conflict (directory_id) do update set
    failures = d.failures + case when d.alone_until is null or d.alone_until <= now() + make_interval(secs => @probes) then 1 else 0 end,
    silent_since = coalesce(d.silent_since, now()), says = @says
returning failures;

-- name: LeaveAlone :exec
update door set alone_until = greatest(alone_until, now() + make_interval(secs => @seconds)) where directory_id = @directory_id and failures > 0;

-- name: TryNow :execrows
update door set alone_until = now() where directory_id = $1 and alone_until is not null;

-- name: WakeCalls :exec
-- What waits for a directory is asked at once. River moves many jobs in one statement, in an order of its own: what it holds
-- is under way anyhow, and two that wait for each other would both be lost.
update river_job set scheduled_at = now() where id in (select j.id from river_job j where j.kind = 'call' and j.state in ('scheduled', 'retryable')
  and (j.args->>'id')::uuid in (select id from call where directory_id = $1 and done_at is null) for update skip locked);

-- name: Doors :many
select d.directory_id, d.failures, d.says, (d.answered_at is not null)::bool as answered,
  coalesce(extract(epoch from now() - d.answered_at), 0)::float8 as answered_ago,
  coalesce(extract(epoch from now() - d.silent_since), 0)::float8 as silent_for,
  coalesce(greatest(0, extract(epoch from d.alone_until - now())), 0)::float8 as alone_for
from door d;

-- name: WaitingFor :many
select c.id, c.kind, c.tries, extract(epoch from now() - c.asked_at)::float8 as waits, c.asked_at, c.location_id, l.label, cl.name as client_name
from call c join location l on l.id = c.location_id join client cl on cl.id = l.client_id
where c.directory_id = @directory_id and c.done_at is null
  and (c.asked_at, c.id) > (@after_at::timestamptz, @after_id::uuid)
order by c.asked_at, c.id limit @most;

-- name: Credentials :many
select directory_id, url, manner, set_by, set_at, (expires is not null)::bool as ends, coalesce(extract(epoch from expires - now()), 0)::float8 as ends_in from credential;

-- name: CredentialForUse :one
select * from credential where directory_id = $1;

-- name: CredentialForChange :one
select * from credential where directory_id = $1 for update;

-- name: SetCredential :exec
insert into credential (directory_id, url, manner, sealed, set_by, set_at) values ($1, $2, $3, $4, $5, $6)
on conflict (directory_id) do update set url = $2, manner = $3, sealed = $4, set_by = $5, set_at = $6, expires = null;

-- name: RenewCredential :exec
update credential set sealed = $2, expires = $3 where directory_id = $1;

-- name: ExpireCredential :exec
update credential set expires = now() where directory_id = $1 and expires > now();

-- name: DropCredential :execrows
delete from credential where directory_id = $1;
