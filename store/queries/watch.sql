-- name: OpenJobs :many
-- Late is how many seconds the oldest waits past its time.
select kind, state::text as state, count(*) as jobs, greatest(0, max(extract(epoch from now() - scheduled_at)) filter (where state in ('available', 'retryable')))::float8 as late
from river_job where state in ('available', 'running', 'retryable', 'scheduled') group by kind, state;

-- name: WaitingCalls :many
select directory_id, count(*) as calls, extract(epoch from now() - min(asked_at))::float8 as oldest from call where done_at is null group by directory_id;

-- name: CountUnsealed :one
select count(*) from event where id > (select coalesce(max(event_id), 0) from event_seal);
