-- +goose Up

-- A change from a date that directories are told of as it takes effect, and what it was
-- planned together with.
alter table plan add column follow boolean not null default false;
alter table plan add column batch uuid;
create index plan_batch on plan (batch) where batch is not null;
