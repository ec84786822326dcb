-- +goose Up

-- A listing may have values of its own; how the location fits the directory hangs on them.
create index listing_own on listing (location_id) where state ? 'own';
create trigger fit_is_stale after update on listing for each row
    when (old.state->'own' is distinct from new.state->'own') execute function fit_is_stale();
