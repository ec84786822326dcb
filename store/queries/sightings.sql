-- name: ShownOn :many
-- What is known of how often the public pages of a directory change.
select l.location_id, coalesce(l.state->'shown', '{}')::jsonb as shown, coalesce(o.record->>'kind', '')::text as kind
from listing l join location o on o.id = l.location_id
where l.directory_id = $1 and l.visibility = 'public' and o.put_away_at is null;

-- name: DropDifferences :exec
delete from difference where location_id = any($1::uuid[]);

-- name: SaveDifferences :exec
insert into difference select t.location_id, t.directory_id, t.client_id, t.fact, t.title, t.mark, t.record, t.seen, t.says, t.cannot, t.people, t.once, t.rank,
  t.reckoned, t.days, t.since_after, t.since, t.source, t.unseen, t.parent, t.follows, t.overwritten, t.standing
from jsonb_populate_recordset(null::difference, sqlc.arg(differences)::jsonb) t;

-- name: Differences :many
-- A page of a scope's differences, the dearest first; those of one source, fact or directory where these are named.
select d.*, o.label, c.name as client_name, l.control
from difference d join location o on o.id = d.location_id join client c on c.id = d.client_id
join listing l on l.location_id = d.location_id and l.directory_id = d.directory_id
where d.standing = any(sqlc.arg(standings)::text[])
  and (sqlc.narg(clients)::uuid[] is null or d.client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or d.location_id = sqlc.narg(location_id))
  and (sqlc.narg(directory)::text is null or d.directory_id = sqlc.narg(directory))
  and (sqlc.narg(fact)::text is null or d.fact = sqlc.narg(fact))
  and (sqlc.narg(search)::text is null or (d.record || ' ' || d.seen || ' ' || d.title || ' ' || o.label || ' ' || c.name || ' ' || d.directory_id) ilike '%' || sqlc.narg(search)::text || '%')
order by d.rank desc, d.location_id, d.directory_id, d.fact
limit sqlc.arg(most);

-- name: DifferenceSums :one
select count(*)::int as differences, count(distinct (location_id, directory_id))::int as pages, coalesce(sum(people), 0)::double precision as people
from difference
where standing = 'open' and (sqlc.narg(clients)::uuid[] is null or client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or location_id = sqlc.narg(location_id));

-- name: Consistency :many
-- Public pages by directory, and on how many of them name, address and phone agree.
select l.directory_id, count(*)::int as pages,
  count(*) filter (where not exists (select 1 from difference d where d.location_id = l.location_id and d.directory_id = l.directory_id and d.fact = 'name'))::int as name,
  count(*) filter (where not exists (select 1 from difference d where d.location_id = l.location_id and d.directory_id = l.directory_id and d.fact = 'address'))::int as address,
  count(*) filter (where not exists (select 1 from difference d where d.location_id = l.location_id and d.directory_id = l.directory_id and d.fact = 'phone'))::int as phone
from listing l join location o on o.id = l.location_id
where l.visibility = 'public' and l.state ? 'sighting' and o.put_away_at is null
  and (sqlc.narg(clients)::uuid[] is null or o.client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or o.id = sqlc.narg(location_id))
group by l.directory_id order by l.directory_id;

-- name: AcceptancesOf :many
select * from acceptance where location_id = any($1::uuid[]);

-- name: Accept :exec
insert into acceptance (location_id, directory_id, fact, seen, why, until, by_name, at) values ($1, $2, $3, $4, $5, $6, $7, $8)
on conflict (location_id, directory_id, fact) do update set seen = $4, why = $5, until = $6, by_name = $7, at = $8;

-- name: DropAcceptance :execrows
delete from acceptance where location_id = $1 and directory_id = $2 and fact = $3;

-- name: Difference :one
select * from difference where location_id = $1 and directory_id = $2 and fact = $3;

-- name: SeenPages :many
-- The public pages of a scope that were looked at.
select l.location_id, l.directory_id from listing l join location o on o.id = l.location_id
where l.visibility = 'public' and l.state ? 'sighting' and o.put_away_at is null
  and (sqlc.narg(clients)::uuid[] is null or o.client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or o.id = sqlc.narg(location_id));

-- name: DateDifferences :many
-- On which days pages of a scope show other hours than hold.
select location_id, directory_id, days, once, standing from difference
where fact = 'special_dates' and standing <> 'accepted'
  and (sqlc.narg(clients)::uuid[] is null or client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or location_id = sqlc.narg(location_id));

-- name: DifferingOn :many
-- Pages of a scope on some directories that show other hours than hold on a day of a span.
select location_id, directory_id from difference
where fact = 'special_dates' and standing = 'open' and directory_id = any(sqlc.arg(directories)::text[])
  and (cardinality(days) = 0 or exists (select 1 from unnest(days) d where d between sqlc.arg(first)::date and sqlc.arg(last)::date))
  and (sqlc.narg(clients)::uuid[] is null or client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or location_id = sqlc.narg(location_id))
order by rank desc, location_id, directory_id limit sqlc.arg(most);
