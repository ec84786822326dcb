-- +goose Up

-- The heads of the log that went out, one a day: what was sealed last, which whoever has one can hold the log against.
create table log_head (
    day      date primary key, -- by real time, at Greenwich
    position bigint not null,
    head     text not null     -- as it went out, with its signature
);
