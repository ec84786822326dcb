-- +goose Up

-- Records that were changed together, so that they can be undone together.
create index event_batch on event ((data->>'batch')) where kind = 'record_saved';
