-- +goose Up
alter table owner_link add column instead text not null default ''; -- the attempt under way that a call may end
-- +goose Down
alter table owner_link drop column instead;
