-- +goose Up

-- What the headers of a video and a person say of it; {} for other papers.
alter table paper add column film jsonb not null default '{}';
