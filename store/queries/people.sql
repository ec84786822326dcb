-- name: PersonByEmail :one
select * from person where lower(email) = lower(sqlc.arg(email)::text) and ended_at is null;

-- name: Person :one
select * from person where id = $1 and ended_at is null;

-- name: People :many
select * from person order by ended_at is not null, name;

-- name: AddPerson :one
insert into person (email, name, initials, zone, password_hash, role, client_id, clients) values ($1, $2, $3, $4, $5, $6, $7, $8) returning *;

-- name: SetRole :one
update person set role = $2, client_id = $3, clients = $4 where id = $1 and ended_at is null returning *;

-- name: EndPerson :one
update person set ended_at = sqlc.arg(now)::timestamptz, second_factor = '', factor = null, factor_begun = null where id = $1 and ended_at is null returning *;

-- name: Administrators :one
select count(*) from person where role = 'administrator' and ended_at is null;

-- name: NobodyYet :one
-- Whether nobody may sign in.
select not exists (select from person where ended_at is null);

-- name: LockPerson :one
select * from person where id = $1 and ended_at is null for update;

-- name: ClearFactors :many
-- Those from before that are not sealed yet.
select person.id, second_factor from person where second_factor <> '' for update;

-- name: SealFactor :exec
update person set factor = $2, second_factor = '' where id = $1;

-- name: BeginFactor :exec
update person set factor_begun = $2, factor_begun_at = $3 where id = $1;

-- name: SetFactor :exec
update person set factor = $2, factor_step = $3, factor_begun = null, factor_begun_at = null where id = $1;

-- name: UseFactorStep :exec
update person set factor_step = $2 where id = $1;

-- name: AddRecoveryCodes :exec
insert into recovery_code (person_id, hash) select sqlc.arg(person_id)::uuid, unnest(sqlc.arg(hashes)::bytea[]);

-- name: DropRecoveryCodes :exec
delete from recovery_code where person_id = $1;

-- name: UseRecoveryCode :execrows
update recovery_code set used_at = $3 where person_id = $1 and hash = $2 and used_at is null;

-- name: RecoveryCodesLeft :one
select count(*) from recovery_code where person_id = $1 and used_at is null;

-- name: AddPasskey :one
with more as (update person set passkeys = passkeys + 1 where person.id = $2)
insert into passkey (id, person_id, name, credential, data, at) values ($1, $2, $3, $4, $5, $6) returning *;

-- name: Passkeys :many
select * from passkey where person_id = $1 order by at, id;

-- name: DropPasskey :execrows
with gone as (delete from passkey where passkey.id = $1 and passkey.person_id = $2 returning person_id)
update person set passkeys = passkeys - 1 where person.id in (select gone.person_id from gone);

-- name: UsePasskey :exec
update passkey set data = $2, used_at = $3 where credential = $1;

-- name: DropPasskeys :exec
with gone as (delete from passkey where passkey.person_id = $1)
update person set passkeys = 0 where person.id = $1;

-- name: RoleRules :many
select * from role_rule;

-- name: SetRoleRule :exec
insert into role_rule (role, second_factor) values ($1, $2) on conflict (role) do update set second_factor = excluded.second_factor;

-- name: RoleTakesFactor :one
select coalesce((select second_factor from role_rule where role = $1), false)::boolean;

-- name: MoveAccounts :execrows
update account set person_id = $2, holder = $3 where person_id = $1 and not gone;

-- name: MoveDrafts :execrows
update draft mine set person_id = $2 where mine.person_id = $1 and not exists (select from draft d where d.person_id = $2 and d.subject = mine.subject);

-- name: AddInvitation :one
insert into invitation (id, hash, email, role, client_id, invited_by, at, expires, clients) values ($1, $2, $3, $4, $5, $6, $7, $8, $9) returning *;

-- name: OpenInvitations :many
select * from invitation where used_at is null and withdrawn_at is null and expires > $1 and email <> '' order by at desc;

-- name: Invitation :one
select * from invitation where hash = $1 for update;

-- name: UseInvitation :exec
update invitation set used_at = $2 where id = $1;

-- name: WithdrawInvitation :execrows
update invitation set withdrawn_at = $2 where id = $1 and used_at is null and withdrawn_at is null;

-- name: AddToken :one
insert into api_token (hash, person_id, name, scope, at, expires) values ($1, $2, $3, $4, $5, $6) returning *;

-- name: Tokens :many
select * from api_token where person_id = $1 and ended_at is null order by at desc;

-- name: Token :one
select t.id as token_id, t.scope, t.used_at, sqlc.embed(p) from api_token t join person p on p.id = t.person_id where t.hash = $1 and t.ended_at is null and t.expires > $2 and p.ended_at is null;

-- name: TouchToken :exec
update api_token set used_at = $2 where id = $1;

-- name: EndToken :execrows
update api_token set ended_at = $3 where id = $1 and person_id = $2 and ended_at is null;

-- name: EndTokens :execrows
update api_token set ended_at = $2 where person_id = $1 and ended_at is null;

-- name: ReserveTry :one
-- Counts a try as failed, before it is known whether it is; no row where none may be made yet. After some that are
-- free each has to wait twice as long as the one before it; after a day without one all of it is forgotten.
insert into try (key, failed, last) values (sqlc.arg(key), 1, sqlc.arg(now)::timestamptz)
on conflict (key) do update set last = excluded.last,
    failed = case when try.last < sqlc.arg(now)::timestamptz - interval '1 day' then 1 else try.failed + 1 end
where try.failed < sqlc.arg(free)::int or try.last + least(power(2, least(try.failed - sqlc.arg(free)::int, 20))::int, sqlc.arg(most_seconds)::int) * interval '1 second' <= sqlc.arg(now)::timestamptz
returning failed;

-- name: Tried :one
select failed, last from try where key = $1;

-- name: ForgetTries :exec
delete from try where key = any(sqlc.arg(keys)::text[]);

-- name: TakeBackTry :exec
update try set failed = failed - 1 where key = $1 and failed > 0;

-- name: ForgetOldTries :exec
delete from try where last < $1;

-- name: SetPassword :exec
update person set password_hash = $2 where id = $1;

-- name: KnowBrowser :exec
insert into known_browser (hash, person_id, used_at) values ($1, $2, $3) on conflict (hash) do update set used_at = excluded.used_at;

-- name: BrowserKnows :one
select exists (select from known_browser b join person p on p.id = b.person_id where b.hash = $1 and lower(p.email) = lower(sqlc.arg(email)::text));

-- name: ForgetBrowsers :exec
delete from known_browser where person_id = $1;

-- name: ForgetOldBrowsers :exec
delete from known_browser where used_at < $1;

-- name: AddReset :exec
insert into password_reset (id, hash, person_id, at, expires) values ($1, $2, $3, $4, $5);

-- name: LockReset :one
select r.id, r.expires, r.used_at, p.email, p.id as person_id, p.name from password_reset r join person p on p.id = r.person_id
where r.hash = $1 and p.ended_at is null for update of r;

-- name: UseReset :exec
update password_reset set used_at = $2 where id = $1;

-- name: EndResets :exec
update password_reset set used_at = $2 where person_id = $1 and used_at is null;

-- name: ForgetOldResets :exec
delete from password_reset where expires < $1;

-- name: ForgetOldSessions :exec
delete from sessions where expiry < $1;

-- name: Owners :many
-- Whose things are: locations, photos, papers, matters and owner links, and what was done to many locations at once, by their ids.
select id, client_id from location where id = any(sqlc.arg(ids)::uuid[])
union select id, client_id from photo where id = any(sqlc.arg(ids)::uuid[])
union select id, client_id from paper where id = any(sqlc.arg(ids)::uuid[])
union select id, client_id from matter where id = any(sqlc.arg(ids)::uuid[])
union select k.id, l.client_id from owner_link k join location l on l.id = k.location_id where k.id = any(sqlc.arg(ids)::uuid[])
union select r.round_id, l.client_id from round_item r join location l on l.id = r.location_id where r.round_id = any(sqlc.arg(ids)::uuid[])
union select p.batch, l.client_id from plan p join location l on l.id = p.location_id where p.batch = any(sqlc.arg(ids)::uuid[])
union select (e.data->>'batch')::uuid, l.client_id from event e join location l on l.id = e.location_id
  where e.kind = 'record_saved' and e.data->>'batch' = any(sqlc.arg(ids)::uuid[]::text[]);
