-- name: AddLetter :exec
insert into letter (id, client_id, location_id, recipient, subject, mail, secret, written_at) values ($1, $2, $3, $4, $5, $6, $7, $8);

-- name: Letter :one
select * from letter where id = $1;

-- name: LetterTried :exec
update letter set tries = tries + 1, says = $2 where id = $1 and state = 'queued';

-- name: LetterIs :execrows
-- One that came back was taken before, and what came of one is not forgotten by a late word.
update letter set state = @state, says = @says, tries = tries + 1
where id = @id and (state = 'queued' or state = 'taken' and @state = 'bounced');

-- name: Letters :many
-- The newest first. Those of a client who is limited to some are left out with all that is nobody's alone.
select l.id, l.number, l.recipient, l.subject, l.state, l.says, l.tries, l.written_at, l.aside, coalesce(c.name, '')::text as client_name, l.location_id, coalesce(o.label, '')::text as label
from letter l left join client c on c.id = l.client_id left join location o on o.id = l.location_id
where (sqlc.narg(before)::bigint is null or l.number < sqlc.narg(before))
  and (not @troubled::bool or l.state in ('refused', 'bounced', 'given_up') and not l.aside)
  and (sqlc.narg(clients)::uuid[] is null or l.client_id = any(sqlc.narg(clients)::uuid[]))
order by l.number desc limit @most;

-- name: PutLetterAside :execrows
update letter set aside = $2 where id = $1 and state in ('refused', 'bounced', 'given_up');

-- name: ForgetOldLetters :exec
-- What stands in letters is kept for as long as one may still want to send it again.
update letter set mail = mail || '{"Body": ""}', secret = null where real_at < now() - interval '90 days' and mail->>'Body' <> '';

-- name: EraseLetters :exec
update letter set recipient = '', subject = '', mail = '{}', secret = null, says = '' where client_id = $1;
