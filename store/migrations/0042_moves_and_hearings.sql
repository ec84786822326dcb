-- +goose Up
-- Where a listing was last given that its location is: of all that it was given, the last that told an address.
update listing l set state = jsonb_set(l.state, '{stands}', s.stands)
from (
    select distinct on (e.location_id, e.directory_id) e.location_id, e.directory_id,
        jsonb_build_object(
            'street', coalesce(v.data->>'street', ''), 'unit', '', 'locality', coalesce(v.data->>'locality', ''),
            'region', coalesce(v.data->>'region', ''), 'postal_code', coalesce(v.data->>'postal_code', ''), 'country', coalesce(v.data->>'country', '')
        ) as stands
    from event e
    cross join lateral (select jsonb_path_query_first(e.data, '$.values[*] ? (@.key == "address").data') as data) v
    where e.directory_id is not null and e.kind in ('given', 'created', 'copied', 'sent') and jsonb_typeof(v.data) = 'object'
    order by e.location_id, e.directory_id, e.id desc
) s
where l.location_id = s.location_id and l.directory_id = s.directory_id;
-- What was decided about requests for access and about changes, by the directory.
create index event_decided on event (directory_id, id) where kind in ('access_granted', 'access_refused', 'access_silent', 'change_passed', 'change_failed');
-- +goose Down
drop index event_decided;
update listing set state = state - 'stands' - 'left';
