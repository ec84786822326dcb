-- name: PersonByEmail :one
select * from person where lower(email) = lower(sqlc.arg(email)::text);

-- name: Person :one
select * from person where id = $1;

-- name: People :many
select * from person order by name;

-- name: AddPerson :one
insert into person (email, name, initials, zone, password_hash) values ($1, $2, $3, $4, $5) returning *;

-- name: CountSignInFailures :one
select count(*) from sign_in_failure where key = $1 and at > $2;

-- name: AddSignInFailure :exec
insert into sign_in_failure (key, at) values ($1, $2);

-- name: ForgetSignInFailures :exec
delete from sign_in_failure where key = $1 or at < $2;
