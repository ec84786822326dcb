-- name: Regions :many
select id, name, towns, roads from region order by lower(name);

-- name: RegionFiles :many
select geojson from region order by id;

-- name: AddRegion :exec
insert into region (id, name, geojson, towns, roads) values ($1, $2, $3, $4, $5);

-- name: DropRegion :one
delete from region where id = $1 returning name;
