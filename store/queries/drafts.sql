-- name: Draft :one
select body from draft where person_id = $1 and subject = $2;

-- name: SaveDraft :exec
insert into draft (person_id, subject, body, at) values ($1, $2, $3, $4)
on conflict (person_id, subject) do update set body = $3, at = $4;

-- name: DropDraft :exec
delete from draft where person_id = $1 and subject = $2;

-- name: SeePresence :one
-- Whether anything is new: the window, or what it does.
insert into presence as p (location_id, window_id, person_id, editing) values ($1, $2, $3, $4)
on conflict (location_id, window_id) do update set editing = $4, seen_at = now(), person_id = $3
returning (xmax = 0 or p.editing <> (select o.editing from presence o where o.location_id = $1 and o.window_id = $2))::bool as fresh;

-- name: LeavePresence :execrows
delete from presence where location_id = $1 and window_id = $2;

-- name: Present :many
select p.window_id, p.person_id, p.editing, person.name from presence p join person on person.id = p.person_id
where p.location_id = $1 and p.seen_at > now() - interval '40 seconds' order by person.name, p.window_id;

-- name: AddPlan :exec
insert into plan (id, location_id, on_date, at, base, record, actor, created_at, follow, batch) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10);

-- name: Plans :many
-- Those to come, and those of the last month that left something as it was.
select * from plan where location_id = sqlc.arg(location_id) and (done_at is null or kept <> '[]' and done_at > sqlc.arg(since)) order by at, created_at;

-- name: DropPlan :execrows
delete from plan where id = $1 and location_id = $2 and not taken;

-- name: DropPlansOf :execrows
-- What was planned together and is still to come.
delete from plan where batch = $1 and not taken;

-- name: TakeDuePlans :many
update plan p set taken = true from (
    select id from plan where plan.at <= $1 and not taken order by plan.at limit 200 for update skip locked
) due
where p.id = due.id returning p.id;

-- name: LockPlan :one
select * from plan where id = $1 for update;

-- name: FinishPlan :exec
update plan set done_at = $2, kept = $3 where id = $1;

-- name: ForgetPresence :exec
-- Windows that were closed by force never said that they left.
delete from presence where seen_at < now() - interval '1 day';
