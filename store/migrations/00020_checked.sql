-- +goose Up
-- What else was looked at as an explanation of a shared chart's relation, a line each; of columns that are not shared, how many.
alter table shares add column checked text not null default '';
