-- name: LastSeal :one
select position, hash from event_seal order by position desc limit 1;

-- name: Unsealed :many
-- Events that are not sealed, of transactions before which none is under way, each in words
-- that do not depend on how it is shown.
select e.id, (jsonb_build_array(e.id, extract(epoch from e.at)::text, extract(epoch from e.recorded_at)::text, e.actor, e.client_id, e.location_id, e.directory_id, e.kind, e.data)::text || coalesce(e.actor_id::text, '') || coalesce(e.book, ''))::text as said
from event e where e.tx < pg_snapshot_xmin(pg_current_snapshot()) and not exists (select from event_seal s where s.event_id = e.id)
  and e.id > coalesce((select max(event_id) from event_seal), 0) - 100000
order by e.id limit 2000;

-- name: AddSeal :exec
-- Its place is reckoned and not drawn from the sequence, which leaves gaps where a transaction or the server broke off.
insert into event_seal (position, event_id, hash) overriding system value values ($1, $2, $3);

-- name: Sealed :many
-- What is sealed after a position, with the event as it is now; null where it is gone.
select s.position, s.event_id, s.hash,
  coalesce(jsonb_build_array(e.id, extract(epoch from e.at)::text, extract(epoch from e.recorded_at)::text, e.actor, e.client_id, e.location_id, e.directory_id, e.kind, e.data)::text || coalesce(e.actor_id::text, '') || coalesce(e.book, ''), '')::text as said, (e.id is not null)::boolean as there
from event_seal s left join event e on e.id = s.event_id where s.position > $1 order by s.position limit 5000;

-- name: NeverSealed :many
-- Events that should have been sealed long ago and are not.
select e.id from event e where not exists (select from event_seal s where s.event_id = e.id) and e.recorded_at < now() - interval '10 minutes' order by e.id limit 20;

-- name: Log :many
select e.id, e.at, e.actor, e.kind, e.data, e.client_id, e.location_id, e.directory_id, coalesce(c.name, '')::text as client_name, coalesce(l.label, '')::text as label,
  exists (select from event_seal s where s.event_id = e.id) as sealed
from event e left join client c on c.id = e.client_id left join location l on l.id = e.location_id
where (sqlc.narg(before)::bigint is null or e.id < sqlc.narg(before))
  and (sqlc.narg(clients)::uuid[] is null or e.client_id = any(sqlc.narg(clients)::uuid[]) or l.client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or e.location_id = sqlc.narg(location_id))
  and (sqlc.narg(actor)::text is null or e.actor ilike '%' || sqlc.narg(actor) || '%')
  and (sqlc.narg(kind)::text is null or e.kind = sqlc.narg(kind))
  and (sqlc.narg(from_at)::timestamptz is null or e.at >= sqlc.narg(from_at)) and (sqlc.narg(to_at)::timestamptz is null or e.at < sqlc.narg(to_at))
  and (sqlc.narg(text)::text is null or strpos(lower(concat_ws(' ', e.kind, e.data::text, l.label, c.name)), lower(sqlc.narg(text))) > 0)
order by e.id desc limit sqlc.arg(most)::int;

-- name: LogKinds :many
select distinct kind from event order by kind;

-- name: KeepRulebookTexts :exec
insert into rulebook_text (version, source) select unnest(sqlc.arg(versions)::text[]), unnest(sqlc.arg(sources)::text[]) on conflict do nothing;

-- name: AssumeBooks :exec
-- For events that carry no version: that which is in force now.
insert into assumed_book (directory_id, version, until)
select b.directory_id, b.version, (select max(id) from event e where e.directory_id = b.directory_id and e.book is null)
from (select unnest(sqlc.arg(directories)::text[]) as directory_id, unnest(sqlc.arg(versions)::text[]) as version) b
where exists (select from event e where e.directory_id = b.directory_id and e.book is null)
on conflict do nothing;

-- name: RulebookTexts :many
select * from rulebook_text;

-- name: AssumedBooks :many
select * from assumed_book;

-- name: ListingKeys :many
-- A page of all listings, after one.
select location_id, directory_id from listing where (location_id, directory_id) > (sqlc.arg(location_id)::uuid, sqlc.arg(directory_id)::text) order by location_id, directory_id limit 500;

-- name: SealAt :one
select hash from event_seal where position = $1;

-- name: HeadOf :one
select head from log_head where day = $1;

-- name: KeepHead :execrows
insert into log_head (day, position, head) values ($1, $2, $3) on conflict do nothing;
