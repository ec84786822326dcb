-- name: LastNotice :one
select coalesce(max(number), 0)::bigint from notice;

-- name: AddNotice :one
-- Whether the letter is new; one that was there keeps its place among those that were read.
insert into notice (id, number, at, sender, subject, body, directory_id, location_id) values ($1, $2, $3, $4, $5, $6, $7, $8)
on conflict (id) do update set number = greatest(notice.number, excluded.number) returning (xmax = 0)::boolean as fresh;

-- name: BeingMade :one
-- Whether a directory is just being asked for a listing, whose page is not known yet.
select exists (select from call where directory_id = $1 and done_at is null and kind in ('create_asked', 'claim_asked', 'copy_asked'));

-- name: LooseNotices :many
-- Letters of directories of which it could not be told what they are about.
select * from notice where location_id is null and directory_id is not null and not put_aside order by number desc;

-- name: Notice :one
select * from notice where id = $1 for update;

-- name: AssignNotice :exec
update notice set location_id = $2 where id = $1;

-- name: PutNoticeAside :execrows
update notice set put_aside = $2 where id = $1 and location_id is null;

-- name: Neighbours :many
-- Other clients at the address of a location.
select distinct c.name from location l join client c on c.id = l.client_id
where l.client_id <> $1 and lower(l.record->'address'->>'street') = lower(sqlc.arg(street)::text) and lower(l.record->'address'->>'locality') = lower(sqlc.arg(locality)::text)
  and lower(coalesce(l.record->'address'->>'unit', '')) = lower(sqlc.arg(unit)::text) order by 1;

-- name: PhoneElsewhere :many
-- Locations of other clients with a phone.
select c.name, l.label from location l join client c on c.id = l.client_id
where l.client_id <> $1 and l.record->'phones' @> jsonb_build_array(jsonb_build_object('e164', sqlc.arg(phone)::text)) order by 1, 2;

-- name: ClientSites :many
select distinct (record->>'website')::text as website, (record->>'email')::text as email from location where client_id = $1;
