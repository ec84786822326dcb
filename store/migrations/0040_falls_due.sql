-- +goose Up
-- What falls due by the job's clock and is not taken up yet, in one place for all that ask when or whether.
create view falls_due as
    select at from deadline where not taken
    union all select at from plan where not taken
    union all select remind_at from owner_link where remind_at is not null
    union all select call_at from owner_link where call_at is not null and attempt = '' and done_at is null and withdrawn_at is null;
-- +goose Down
drop view falls_due;
