-- +goose Up
-- An attempt that was accepted keeps nothing of what was said to a wrong code before it.
update listing set state = jsonb_set(state, '{attempts}', (
    select jsonb_agg(case when a->>'state' = 'accepted' and a->>'method' in ('postcard', 'call', 'text', 'email') then a - 'says' else a end order by n)
    from jsonb_array_elements(state->'attempts') with ordinality x(a, n)))
where state->'attempts' @> '[{"state": "accepted"}]';
-- +goose Down
select 1;
