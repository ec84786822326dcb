-- +goose Up
-- Owners are written to in their language, about all that they owe at once, with growing pauses and not for ever.
alter table client add column language text not null default 'en'; -- ISO 639-1
alter table owner_link
    add column reminded integer not null default 0, -- letters that were written about it, the first among them
    add column reminded_at timestamptz;             -- the last of them
update owner_link set reminded = 1, reminded_at = made_at where sent_to <> '';
create index owner_link_sent_to on owner_link (lower(sent_to)) where sent_to <> '';
-- +goose Down
drop index owner_link_sent_to;
alter table owner_link drop column reminded, drop column reminded_at;
alter table client drop column language;
