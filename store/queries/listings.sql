-- name: Listings :many
select l.* from listing l join location o on o.id = l.location_id
where o.put_away_at is null and (sqlc.narg(clients)::uuid[] is null or o.client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or o.id = sqlc.narg(location_id));

-- name: Listing :one
select * from listing where location_id = $1 and directory_id = $2;

-- name: AddListing :exec
insert into listing (location_id, directory_id, control, verification, visibility, state) values ($1, $2, $3, $4, $5, $6)
on conflict do nothing;

-- name: LockListing :one
select * from listing where location_id = $1 and directory_id = $2 for update;

-- name: SaveListing :exec
update listing set control = $3, verification = $4, visibility = $5, state = $6, cases = $7 where location_id = $1 and directory_id = $2;

-- name: ListingEvents :many
select * from event where location_id = $1 and directory_id = $2 order by id;

-- name: AddCall :exec
insert into call (id, location_id, directory_id, kind, payload) values ($1, $2, $3, $4, $5);

-- name: Call :one
select * from call where id = $1;

-- name: PendingCall :one
select * from call where location_id = $1 and directory_id = $2 and done_at is null;

-- name: CountCallTry :one
update call set tries = tries + 1 where id = $1 and done_at is null returning tries, asked_at;

-- name: FinishCall :execrows
update call set done_at = $2, given_up = $3, payload = payload - 'code' where id = $1 and done_at is null;

-- name: ClearDeadlines :exec
delete from deadline where location_id = $1 and directory_id = $2;

-- name: AddDeadline :exec
insert into deadline (location_id, directory_id, kind, at) values ($1, $2, $3, $4);

-- name: TakeDueDeadlines :many
update deadline d set taken = true from (
    select location_id, directory_id, kind from deadline where deadline.at <= $1 and not taken order by deadline.at limit 500 for update skip locked
) due
where d.location_id = due.location_id and d.directory_id = due.directory_id and d.kind = due.kind
returning d.*;

-- name: NextDeadline :one
select min(at)::timestamptz from falls_due having min(at) is not null;

-- name: UnderWay :one
-- What is being done, and whether more is due, as they are at one moment: asked one after the other, what another server
-- takes in between would be neither. Being done are deadlines and plans that were taken, directories that are asked for the
-- first time, and mail that is sent, rounds' listings that are taken up for the first time, and records that directories are
-- told of.
select ((select count(*) from deadline where taken) + (select count(*) from plan where taken and done_at is null) + (select count(*) from call where done_at is null and tries = 0)
  + (select count(*) from owner_link where attempt = 'asked')
  + (select count(*) from river_job where kind in ('mail', 'round', 'follow') and state in ('available', 'running') and attempt <= 1))::int as busy,
  exists (select from falls_due d where d.at <= sqlc.arg(now)) as due;

-- name: Notify :exec
select pg_notify('uvent_changed', sqlc.arg(payload)::text);

-- name: RunningJobs :many
select id, attempted_by from river_job where state = 'running';

-- name: FreeJob :exec
update river_job set state = 'available', scheduled_at = now() where id = $1 and state = 'running';

-- name: EndedAttempts :many
-- How tries to verify have ended, by directory and method. One for which no code was sent was none.
select directory_id, (a->>'method')::text as method, (a->>'state')::text as state, count(*) as count
from listing, jsonb_array_elements(case jsonb_typeof(listing.state->'attempts') when 'array' then listing.state->'attempts' else '[]' end) a
where not (a->>'state' = 'refused' and (a->>'digits')::int = 0 and a->>'method' in ('postcard', 'call', 'text', 'email'))
group by 1, 2, 3;

-- name: AppealsHeard :many
-- How our appeals to a directory were answered, by the likeliest cause of the case and the kinds of paper that went with them.
select coalesce(c->>'cause', '')::text as cause, coalesce(a->'kinds', '[]')::jsonb as kinds, coalesce((a->>'granted')::boolean, false)::boolean as granted
from listing, jsonb_array_elements(case jsonb_typeof(listing.state->'cases') when 'array' then listing.state->'cases' else '[]' end) c,
  jsonb_array_elements(case jsonb_typeof(c->'appeals') when 'array' then c->'appeals' else '[]' end) a
where directory_id = $1 and a->>'answered_at' is not null;

-- name: Decided :many
-- How what we asked a directory for was decided, the latest five hundred: by what was asked, and the evidence that went with it.
select q.kind::text as asked, coalesce(q.data->>'paper', q.data->>'with', '')::text as evidence, (e.kind in ('access_granted', 'change_passed'))::boolean as granted
from event e
cross join lateral (
    select a.kind, a.data from event a
    where a.location_id = e.location_id and a.directory_id = e.directory_id and a.id < e.id and a.kind in ('access_asked', 'escalate_asked', 'suggest_asked', 'send_asked')
    order by a.id desc limit 1
) q
where e.directory_id = $1 and e.kind in ('access_granted', 'access_refused', 'access_silent', 'change_passed', 'change_failed')
order by e.id desc limit 500;

-- name: Troubled :many
-- Listings of a scope that have or had a case.
select l.* from listing l join location o on o.id = l.location_id
where l.cases > 0 and o.put_away_at is null and (sqlc.narg(clients)::uuid[] is null or o.client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or o.id = sqlc.narg(location_id));

-- name: ListingByPage :one
-- The listing whose page a text names; the longest where one address begins another.
select location_id from listing where directory_id = $1 and state->>'page' <> '' and position(state->>'page' in sqlc.arg(body)::text) > 0
order by length(state->>'page') desc limit 1;

-- name: LettersAbout :many
-- The locations whose letters to a directory some ids are of.
select distinct t.location_id::uuid from letter t join listing l on l.location_id = t.location_id and l.directory_id = $1
where t.id = any(sqlc.arg(letters)::text[]) limit 2;

-- name: NamedAmongAsked :many
-- Of the locations about which a directory's people were asked, those whose name and town stand in a text; two at most.
select l.location_id from listing l join location o on o.id = l.location_id
where l.directory_id = $1 and l.state ? 'answer_by'
    and position(lower(o.record->>'name') in lower(sqlc.arg(body)::text)) > 0
    and position(lower(o.record->'address'->>'locality') in lower(sqlc.arg(body)::text)) > 0
limit 2;

-- name: OwnValues :many
select location_id, directory_id, (state->'own')::jsonb as own from listing where state ? 'own' and location_id = any(sqlc.arg(locations)::uuid[]);
