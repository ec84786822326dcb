-- name: AddRound :one
insert into round (id, what, made_by, made_at, made_by_id) values ($1, $2, $3, $4, $5) returning *;

-- name: AddRoundItem :execrows
insert into round_item (round_id, location_id, directory_id, method, facts) values ($1, $2, $3, $4, $5) on conflict do nothing;

-- name: Round :one
select * from round where id = $1;

-- name: LockRoundItem :one
select i.*, r.what, r.made_by, r.stopped_at from round_item i join round r on r.id = i.round_id
where i.round_id = $1 and i.location_id = $2 and i.directory_id = $3 for update of i;

-- name: SaveRoundItem :exec
update round_item set state = $4, method = $5, call_id = $6, says = $7 where round_id = $1 and location_id = $2 and directory_id = $3;

-- name: StopRound :execrows
with stopped as (update round set stopped_at = sqlc.arg(at)::timestamptz where round.id = sqlc.arg(round)::uuid and stopped_at is null)
update round_item set state = 'stopped' where round_id = sqlc.arg(round)::uuid and state = 'waiting';

-- name: RoundItems :many
-- Each with whether the directory has answered, and how the listing stands.
select i.location_id, i.directory_id, i.method, i.state, i.says, (c.done_at is not null)::bool as answered, coalesce(c.tries, 0)::int as tries, coalesce(c.given_up, '')::text as given_up,
    o.label, cl.name as client_name, coalesce(l.state, '{}')::jsonb as listing
from round_item i join location o on o.id = i.location_id join client cl on cl.id = o.client_id
left join call c on c.id = i.call_id left join listing l on l.location_id = i.location_id and l.directory_id = i.directory_id
where i.round_id = $1 order by cl.name, o.label, i.directory_id;
