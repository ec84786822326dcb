-- name: BeginOnce :execrows
insert into asked_once (who, key, asked, turn) values ($1, $2, $3, $4) on conflict do nothing;

-- name: AskedOnce :one
select asked, done, status, headers, body, begun_at < now() - make_interval(secs => @after) as old
from asked_once where who = $1 and key = $2;

-- name: TakeOnceOver :execrows
-- One that is being committed is waited for.
update asked_once set turn = @turn, begun_at = now()
where who = @who and key = @key and not done and status is null and begun_at < now() - make_interval(secs => @after);

-- name: OnceIsDone :execrows
update asked_once set done = true where who = $1 and key = $2 and turn = $3;

-- name: KeepOnce :exec
update asked_once set status = $4, headers = $5, body = $6 where who = $1 and key = $2 and turn = $3;

-- name: LetOnceGo :exec
delete from asked_once where who = $1 and key = $2 and turn = $3 and not done;

-- name: ForgetOldOnce :exec
delete from asked_once where begun_at < now() - interval '24 hours';
