-- +goose Up
-- Whoever began a round stands behind what it tells owners.
alter table round add column made_by_id uuid references person;
-- +goose Down
select 1;
