-- +goose Up
-- How charts of a space look from their beginning on.
alter table spaces add column style jsonb not null default '{}';
