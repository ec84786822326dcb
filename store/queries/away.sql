-- name: PutLocationAway :exec
update location set put_away_at = sqlc.arg(at)::timestamptz where id = $1;

-- name: BringLocationBack :exec
update location set put_away_at = null where id = $1;

-- name: PutClientAway :exec
update client set put_away_at = sqlc.arg(at)::timestamptz, erased_at = null where id = $1;

-- name: BringClientBack :exec
update client set put_away_at = null where id = $1;

-- name: PutLocationsOfAway :many
-- Those of a client that are not put away yet.
update location set put_away_at = sqlc.arg(at)::timestamptz where client_id = $1 and put_away_at is null returning id;

-- name: BringLocationsOfBack :many
-- Those of a client that were put away together with it.
update location set put_away_at = null where client_id = $1 and put_away_at = sqlc.arg(at)::timestamptz returning id;

-- name: Away :many
-- What is put away, the latest first, after one: locations, and clients that have none.
select a.id, a.client_id, a.client_name, a.label, a.of_client, a.at, a.client_away_at, a.erased_at from (
    select l.id, c.id as client_id, c.name as client_name, l.label, false as of_client, l.put_away_at as at, c.put_away_at as client_away_at, c.erased_at
    from location l join client c on c.id = l.client_id where l.put_away_at is not null
    union all
    select c.id, c.id, c.name, '', true, c.put_away_at, c.put_away_at, c.erased_at from client c
    where c.put_away_at is not null and not exists (select from location where client_id = c.id)
) a
where (sqlc.narg(clients)::uuid[] is null or a.client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.arg(search)::text = '' or strpos(lower(a.client_name || ' ' || a.label), lower(sqlc.arg(search)::text)) > 0)
  and (sqlc.narg(before)::timestamptz is null or (a.at, a.id) < (sqlc.narg(before)::timestamptz, sqlc.narg(before_id)::uuid))
order by a.at desc, a.id desc limit sqlc.arg(most);

-- name: HeldOf :many
-- Listings that are held of some locations, by directory.
select directory_id, count(*)::int as count from listing where location_id = any(sqlc.arg(locations)::uuid[]) and control = 'held' group by directory_id order by directory_id;

-- name: ClientsToErase :many
-- Those that were put away long enough ago, and whose people's data are still there.
select id from client where put_away_at <= sqlc.arg(since)::timestamptz and erased_at is null order by id limit 50 for update;

-- name: PapersToErase :many
-- A client's papers and videos that are still there, with a digest of each.
select p.id, p.kind, encode(sha256(f.data), 'hex')::text as digest from paper p join file f on f.owner_id = p.id and f.what = 'original' where p.client_id = $1 order by p.id;

-- name: EraseFiles :exec
delete from file where owner_id in (select id from paper where client_id = $1);

-- name: ErasePapers :exec
update paper set file_name = '', words = '', film = '{}', added_by = '', removed_at = coalesce(removed_at, sqlc.arg(at)::timestamptz) where client_id = $1;

-- name: ErasePeople :execrows
-- Those who signed in for a client. What they did keeps their mark, and not their name.
update person set email = 'erased ' || id, name = 'Erased', initials = '', password_hash = '', second_factor = '', ended_at = coalesce(ended_at, sqlc.arg(at)::timestamptz)
where client_id = $1;

-- name: EraseLimits :exec
-- Whoever worked for that client among others works for the others.
update person set clients = array_remove(clients, sqlc.arg(client)::uuid) where clients @> array[sqlc.arg(client)::uuid];

-- name: EraseDrafts :exec
delete from draft where person_id in (select id from person where client_id = $1);

-- name: EraseInvitations :exec
update invitation set email = '', withdrawn_at = coalesce(withdrawn_at, sqlc.arg(at)::timestamptz) where client_id = sqlc.arg(client)::uuid or clients = array[sqlc.arg(client)::uuid];

-- name: EraseOwnerLinks :exec
update owner_link set sent_to = '', remind_at = null, withdrawn_at = coalesce(withdrawn_at, sqlc.arg(at)::timestamptz)
where location_id in (select id from location where client_id = $1);

-- name: EraseImports :exec
-- The files that came in for a client alone.
delete from import where client_id = $1;

-- name: EraseRemarks :exec
delete from remark where location_id in (select id from location where client_id = $1);

-- name: ErasePlans :exec
delete from plan where location_id in (select id from location where client_id = $1) and not taken;

-- name: EraseRecords :exec
-- The people that its locations' records name.
update location set record = jsonb_set(jsonb_set(record, '{team}', '[]'), '{mailing,contact}', '""'), version = version + 1 where client_id = $1;

-- name: EraseClient :exec
update client set owner_name = '', owner_email = '', shared = jsonb_set(jsonb_set(shared, '{team}', '[]'), '{mailing,contact}', '""'), version = version + 1,
    erased_at = sqlc.arg(at)::timestamptz where id = $1;
