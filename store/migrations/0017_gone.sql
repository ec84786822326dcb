-- +goose Up

-- An address belongs to one of those who may sign in; who is gone keeps theirs.
drop index person_email;
update person set email = regexp_replace(email, ' until \d{4}-\d\d-\d\d \d\d:\d\d:\d\d$', '') where ended_at is not null;
create unique index person_email on person (lower(email)) where ended_at is null;
