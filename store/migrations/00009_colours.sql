-- +goose Up
-- Values of a column of groups have colours of their own, in all charts.
alter table column_meanings add column colours jsonb not null default '{}';
