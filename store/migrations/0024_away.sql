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

-- A location that is added to a client that is put away brings the client back: it would be counted, and be in no list.
-- +goose StatementBegin
create function client_is_back() returns trigger language plpgsql as $$
begin
    update client set put_away_at = null where put_away_at is not null and id in (select client_id from fresh);
    return null;
end $$;
-- +goose StatementEnd
create trigger client_is_back after insert on location referencing new table as fresh for each statement execute function client_is_back();
