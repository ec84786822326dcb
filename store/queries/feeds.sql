-- name: AddFeed :one
insert into feed (hash, person_id, client_id, location_id, at) values ($1, $2, $3, $4, $5) returning *;

-- name: Feeds :many
select * from feed where person_id = $1 and ended_at is null order by at;

-- name: EndFeed :execrows
update feed set ended_at = $3 where id = $1 and person_id = $2 and ended_at is null;

-- name: Feed :one
select f.* from feed f join person p on p.id = f.person_id where f.hash = $1 and f.ended_at is null and p.ended_at is null;

-- name: SetDigest :exec
update person set digest_minute = $2 where id = $1;

-- name: DigestsDue :many
-- Those whose hour has come today, by their own clock, and of whom today was not dealt with.
select p.id, (sqlc.arg(now)::timestamptz at time zone p.zone)::date as today from person p
where p.ended_at is null and p.digest_minute is not null
  and extract(hour from sqlc.arg(now)::timestamptz at time zone p.zone) * 60 + extract(minute from sqlc.arg(now)::timestamptz at time zone p.zone) >= p.digest_minute
  and not exists (select from digest d where d.person_id = p.id and d.on_date = (sqlc.arg(now)::timestamptz at time zone p.zone)::date);

-- name: NextDigest :one
-- When somebody is written to next.
select min(case when today_at > sqlc.arg(now)::timestamptz then today_at else tomorrow_at end)::timestamptz as at from (
  select (((sqlc.arg(now)::timestamptz at time zone zone)::date + make_interval(mins => digest_minute)) at time zone zone) as today_at,
    (((sqlc.arg(now)::timestamptz at time zone zone)::date + 1 + make_interval(mins => digest_minute)) at time zone zone) as tomorrow_at
  from person where ended_at is null and digest_minute is not null) d having count(*) > 0;

-- name: LastDigest :one
select hash from digest where person_id = $1 and sent order by on_date desc limit 1;

-- name: AddDigest :execrows
insert into digest (person_id, on_date, hash, sent) values ($1, $2, $3, $4) on conflict do nothing;

-- name: Snooze :exec
insert into snooze (location_id, directory_id, act, until, reason, by) values ($1, $2, $3, $4, $5, $6)
on conflict (location_id, directory_id) do update set act = $3, until = $4, reason = $5, by = $6;

-- name: Unsnooze :execrows
delete from snooze where location_id = $1 and directory_id = $2;

-- name: Snoozed :many
select s.* from snooze s join location l on l.id = s.location_id where s.until > sqlc.arg(now) and l.put_away_at is null
  and (sqlc.narg(clients)::uuid[] is null or l.client_id = any(sqlc.narg(clients)::uuid[])) and (sqlc.narg(location_id)::uuid is null or l.id = sqlc.narg(location_id));

-- name: DoneSince :many
-- What people have done since a moment, the newest first.
select e.id, e.at, e.actor, e.kind, e.data, e.client_id, e.location_id, e.directory_id, coalesce(c.name, '')::text as client_name, coalesce(l.label, '')::text as label, true as sealed
from event e join location l on l.id = e.location_id left join client c on c.id = l.client_id
where e.at >= sqlc.arg(since) and e.actor in (select name from person)
  and (sqlc.narg(clients)::uuid[] is null or l.client_id = any(sqlc.narg(clients)::uuid[])) and (sqlc.narg(location_id)::uuid is null or l.id = sqlc.narg(location_id))
order by e.id desc limit 200;
