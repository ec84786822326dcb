-- +goose Up

-- What is put away is out of all counts and lists until it is brought back. A client's papers and its people's
-- data are erased some time after it was put away.
alter table client add column put_away_at timestamptz;
alter table client add column erased_at timestamptz;
alter table location add column put_away_at timestamptz;
update location set record = record || '{"former_addresses": []}';
update client set shared = shared || '{"former_addresses": []}';
update plan set base = base || '{"former_addresses": []}', record = record || '{"former_addresses": []}';
create index location_away on location (put_away_at desc, id desc) where put_away_at is not null;
create index client_away on client (put_away_at) where put_away_at is not null;
