-- +goose Up

-- That a photo was cut changes no fit. Its row is locked by then, and a location's must not be
-- locked after it, for whoever puts photos in order has them the other way round.
drop trigger fit_is_stale on photo;
create trigger fit_is_stale after insert or delete or update of location_id, kind, position, width, height, caption, alternative, focus, removed_at
    on photo for each row execute function fit_is_stale();
