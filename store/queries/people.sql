-- name: PersonByEmail :one
select * from person where lower(email) = lower(sqlc.arg(email)::text) and ended_at is null;

-- name: Person :one
select * from person where id = $1 and ended_at is null;

-- name: People :many
select * from person order by ended_at is not null, name;

-- name: AddPerson :one
insert into person (email, name, initials, zone, password_hash, role, client_id) values ($1, $2, $3, $4, $5, $6, $7) returning *;

-- name: SetRole :one
update person set role = $2, client_id = $3 where id = $1 and ended_at is null returning *;

-- name: EndPerson :one
update person set ended_at = sqlc.arg(now)::timestamptz, second_factor = '' where id = $1 and ended_at is null returning *;

-- name: Administrators :one
select count(*) from person where role = 'administrator' and ended_at is null;

-- name: SetSecondFactor :exec
update person set second_factor = $2 where id = $1;

-- name: MoveAccounts :execrows
update account set person_id = $2, holder = $3 where person_id = $1 and not gone;

-- name: MoveDrafts :execrows
update draft mine set person_id = $2 where mine.person_id = $1 and not exists (select from draft d where d.person_id = $2 and d.subject = mine.subject);

-- name: AddInvitation :one
insert into invitation (hash, email, role, client_id, invited_by, at, expires) values ($1, $2, $3, $4, $5, $6, $7) returning *;

-- name: OpenInvitations :many
select * from invitation where used_at is null and withdrawn_at is null and expires > $1 order by at desc;

-- name: Invitation :one
select * from invitation where hash = $1 for update;

-- name: UseInvitation :exec
update invitation set used_at = $2 where id = $1;

-- name: WithdrawInvitation :execrows
update invitation set withdrawn_at = $2 where id = $1 and used_at is null and withdrawn_at is null;

-- name: AddToken :one
insert into api_token (hash, person_id, name, scope, at) values ($1, $2, $3, $4, $5) returning *;

-- name: Tokens :many
select * from api_token where person_id = $1 and ended_at is null order by at desc;

-- name: Token :one
select t.id, t.scope, t.used_at, p.* from api_token t join person p on p.id = t.person_id where t.hash = $1 and t.ended_at is null and p.ended_at is null;

-- name: TouchToken :exec
update api_token set used_at = $2 where id = $1;

-- name: EndToken :execrows
update api_token set ended_at = $3 where id = $1 and person_id = $2 and ended_at is null;

-- name: ClientOfPhoto :one
select client_id from photo where id = $1;

-- name: ClientOfPaper :one
select client_id from paper where id = $1;

-- name: CountSignInFailures :one
select count(*) from sign_in_failure where key = $1 and at > $2;

-- name: AddSignInFailure :exec
insert into sign_in_failure (key, at) values ($1, $2);

-- name: ForgetSignInFailures :exec
delete from sign_in_failure where key = $1 or at < $2;
