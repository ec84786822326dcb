-- +goose Up

-- Whether a location is wanted on a directory, where somebody decided it against
-- what the reckoning says.
create table choice (
    location_id  uuid not null references location,
    directory_id text not null,
    wanted       boolean not null,
    decided_by   text not null,
    decided_at   timestamptz not null,
    primary key (location_id, directory_id)
);

-- How a location fits every directory, as reckoned from its record, its photos and
-- the rulebooks. A row goes when one of these changes, and is reckoned anew when it is
-- next asked for.
create table location_fit (
    location_id uuid primary key references location,
    books       text not null,   -- digest of the rulebooks that it was reckoned with
    wanted      text[] not null, -- directories on which it is wanted
    gain        double precision not null,   -- weight per minute that the best next fact gains over all wanted
    next        jsonb,           -- that fact; null where nothing is lacking
    cells       jsonb not null   -- by directory
);
create index location_fit_gain on location_fit (gain desc);

-- +goose StatementBegin
create function fit_is_stale() returns trigger language plpgsql as $$
declare
    was record := coalesce(new, old);
begin
    if tg_table_name = 'location' then
        delete from location_fit where location_id = was.id;
    else
        -- The lock waits for a reckoning under way, which would not know of this change.
        if tg_table_name = 'choice' or was.location_id is not null then
            perform from location where id = was.location_id for no key update;
            delete from location_fit where location_id = was.location_id;
        else
            perform from location where client_id = was.client_id order by id for no key update;
            delete from location_fit f using location l where l.id = f.location_id and l.client_id = was.client_id;
        end if;
    end if;
    return null;
end $$;
-- +goose StatementEnd
create trigger fit_is_stale after update on location for each row execute function fit_is_stale();
create trigger fit_is_stale after insert or update or delete on photo for each row execute function fit_is_stale();
create trigger fit_is_stale after insert or update or delete on choice for each row execute function fit_is_stale();
