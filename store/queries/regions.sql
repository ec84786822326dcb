-- name: Regions :many
select id, name, towns, roads, state, trouble, unknown from region order by lower(name);

-- name: RegionFiles :many
select geojson from region where state = 'ready' order by id;

-- name: AddRegion :exec
insert into region (id, name, geojson, towns, roads, state, unknown) values ($1, $2, $3, $4, $5, $6, $7);

-- name: LockRegion :one
select id, name, state from region where id = $1 for update;

-- name: SetRegionMade :exec
update region set geojson = $2, towns = $3, roads = $4, unknown = $5, state = 'ready' where id = $1;

-- name: SetRegionFailed :exec
update region set state = 'failed', trouble = $2 where id = $1;

-- name: DropFiles :exec
delete from file where owner_id = $1;

-- name: DropRegion :one
delete from region where id = $1 returning name;
