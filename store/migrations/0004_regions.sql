-- +goose Up

-- Stretches of country with their coast, roads and towns, as GeoJSON.
create table region (
    id      uuid primary key,
    name    text not null,
    geojson text not null,
    towns   int not null,
    roads   int not null
);
create unique index region_name on region (lower(name));
