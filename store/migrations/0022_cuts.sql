-- +goose Up

-- Photos are cut when a cut is asked for; the jobs that cut them beforehand are done by nobody.
-- +goose StatementBegin
do $$
begin
    if to_regclass('river_job') is not null then
        delete from river_job where kind = 'cut';
    end if;
end
$$;
-- +goose StatementEnd
