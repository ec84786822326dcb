-- name: Clients :many
select * from client order by lower(name);

-- name: Client :one
select * from client where id = $1;

-- name: AddClient :one
insert into client (name, legal_name, owner_name, owner_email, shared, language) values ($1, $2, $3, $4, $5, $6) returning *;

-- name: SaveClient :one
update client set name = $2, legal_name = $3, owner_name = $4, owner_email = $5, shared = $6, language = $8, version = version + 1
where id = $1 and version = $7 returning *;

-- name: LockClient :one
select * from client where id = $1 for update;

-- name: ShareClient :one
select * from client where id = $1 for key share;

-- name: LocationsOf :many
select * from location where client_id = $1 order by id for update;

-- name: Locations :many
-- Those that are not put away; the one that is asked for by itself in any case.
select * from location
where (put_away_at is null or id = sqlc.narg(location_id)) and (sqlc.narg(clients)::uuid[] is null or client_id = any(sqlc.narg(clients)::uuid[]))
  and (sqlc.narg(location_id)::uuid is null or id = sqlc.narg(location_id))
order by client_id, lower(label);

-- name: AllLocations :many
-- Those that are put away too.
select * from location order by client_id, lower(label);

-- name: Location :one
select * from location where id = $1;

-- name: LockLocation :one
select * from location where id = $1 for update;

-- name: AddLocation :one
insert into location (id, client_id, label, store_code, record) values ($1, $2, $3, $4, $5) returning *;

-- name: SaveLocation :one
update location set label = $2, store_code = $3, record = $4, version = version + 1
where id = $1 and version = $5 returning *;

-- name: CopyClients :copyfrom
insert into client (id, name) values ($1, $2);

-- name: CopyLocations :copyfrom
insert into location (id, client_id, label, store_code, record) values ($1, $2, $3, $4, $5);

-- name: CopyEvents :copyfrom
insert into event (at, actor, actor_id, client_id, location_id, directory_id, kind, data) values ($1, $2, $3, $4, $5, $6, $7, $8);

-- name: AddEvent :one
insert into event (at, actor, actor_id, client_id, location_id, directory_id, kind, data, book) values ($1, $2, $3, $4, $5, $6, $7, $8, $9) returning id;

-- name: LocationsByID :many
select * from location where id = any(sqlc.arg(ids)::uuid[]) order by id for update;

-- name: RecordChanges :many
select * from event where kind = 'record_saved' and data->>'batch' = sqlc.arg(batch)::text order by id;

-- name: RecordHistory :many
select * from event where location_id = $1 and directory_id is null and kind in ('location_added', 'record_saved') order by id desc limit 500;

-- name: RecordChange :one
select * from event where id = $1 and location_id = $2 and kind in ('location_added', 'record_saved');

-- name: LastEvent :one
select * from event where location_id = $1 and kind = $2 order by id desc limit 1;

-- name: FormerAddresses :many
-- Where a location was before its record said otherwise, the latest first.
select distinct on (data->'before'->'address') (data->'before'->'address')::jsonb as address from event
where location_id = $1 and kind = 'record_saved' and data->'before'->'address' is distinct from data->'after'->'address' and coalesce(data->'before'->'address'->>'street', '') <> '';
