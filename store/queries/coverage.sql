-- name: Unfitted :many
-- Locations whose fit is to be reckoned with these rulebooks, kept as they are until it is.
select l.id, l.client_id, l.record from location l left join location_fit f on f.location_id = l.id and f.books = sqlc.arg(books) and f.until > sqlc.arg(now)::timestamptz
where f.location_id is null and l.put_away_at is null
  and (sqlc.narg(clients)::uuid[] is null or l.client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or l.id = sqlc.narg(location_id))
order by l.id limit sqlc.arg(most) for share of l;

-- name: SaveFits :exec
insert into location_fit (location_id, books, wanted, gain, next, cells, until)
select f.location_id, f.books, f.wanted, f.gain, f.next, f.cells, f.until from jsonb_to_recordset(sqlc.arg(fits)::jsonb) as f(location_id uuid, books text, wanted text[], gain double precision, next jsonb, cells jsonb, until timestamptz)
on conflict (location_id) do update set books = excluded.books, wanted = excluded.wanted, gain = excluded.gain, next = excluded.next, cells = excluded.cells, until = excluded.until;

-- name: PhotosOfClients :many
select * from photo where client_id = any(sqlc.arg(clients)::uuid[]) and removed_at is null order by position, id;

-- name: Choices :many
select * from choice where location_id = any(sqlc.arg(locations)::uuid[]);

-- name: Choose :exec
insert into choice (location_id, directory_id, wanted, decided_by, decided_at) values ($1, $2, $3, $4, $5)
on conflict (location_id, directory_id) do update set wanted = excluded.wanted, decided_by = excluded.decided_by, decided_at = excluded.decided_at;

-- name: Unchoose :exec
delete from choice where location_id = $1 and directory_id = $2;

-- name: Fits :many
select f.* from location_fit f join location l on l.id = f.location_id
where (sqlc.narg(clients)::uuid[] is null or l.client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or l.id = sqlc.narg(location_id));

-- name: Coverage :many
select l.id, l.client_id, c.name as client_name, l.label, (l.record->>'kind')::text as kind, f.wanted, f.next, f.cells
from location l join client c on c.id = l.client_id join location_fit f on f.location_id = l.id
where (sqlc.narg(clients)::uuid[] is null or l.client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or l.id = sqlc.narg(location_id))
order by case when sqlc.arg(by_gain)::boolean then -f.gain end, lower(c.name), c.id, lower(l.label), l.id
limit sqlc.arg(most) offset sqlc.arg(past);

-- name: ListingsOf :many
select location_id, directory_id, control, verification, visibility from listing where location_id = any(sqlc.arg(locations)::uuid[]);

-- name: CoverageCounts :one
-- How many locations there are, how many have a fit by these rulebooks, and how many
-- listings are wanted.
select (select count(*) from location where put_away_at is null)::int as locations, count(*)::int as fitted, coalesce(sum(cardinality(f.wanted)), 0)::int as wanted
from location_fit f where f.books = sqlc.arg(books) and f.until > sqlc.arg(now)::timestamptz;

-- name: CoverageCountsOf :one
-- The same of a client or a location.
select count(*)::int as locations, count(f.location_id)::int as fitted, coalesce(sum(cardinality(f.wanted)), 0)::int as wanted
from location l left join location_fit f on f.location_id = l.id and f.books = sqlc.arg(books) and f.until > sqlc.arg(now)::timestamptz
where l.put_away_at is null and (sqlc.narg(clients)::uuid[] is null or l.client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or l.id = sqlc.narg(location_id));

-- name: ListingCounts :many
select s.visibility, s.control, count(*)::int as count
from listing s join location l on l.id = s.location_id join location_fit f on f.location_id = l.id
where s.directory_id = any(f.wanted)
  and (sqlc.narg(clients)::uuid[] is null or l.client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or l.id = sqlc.narg(location_id))
group by s.visibility, s.control;

-- name: UnverifiedCount :one
select count(*)::int from listing s join location l on l.id = s.location_id
where s.control = 'held' and s.verification <> 'verified' and l.put_away_at is null
  and (sqlc.narg(clients)::uuid[] is null or l.client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or l.id = sqlc.narg(location_id));

-- name: DirectoryCounts :many
-- Of each directory, how many listings are wanted, held and public.
select w.directory_id, count(*)::int as wanted, count(*) filter (where s.control = 'held')::int as held, count(*) filter (where s.visibility = 'public')::int as public
from (
    select f.location_id, unnest(f.wanted)::text as directory_id
    from location_fit f join location l on l.id = f.location_id
    where (sqlc.narg(clients)::uuid[] is null or l.client_id = any(sqlc.narg(clients)::uuid[]))
      and (sqlc.narg(location_id)::uuid is null or l.id = sqlc.narg(location_id))
) w left join listing s on s.location_id = w.location_id and s.directory_id = w.directory_id
group by w.directory_id;

-- name: ListingsOn :many
select location_id, control, verification, visibility from listing where directory_id = $1;
