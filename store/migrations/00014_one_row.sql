-- +goose Up
-- What one row of a dataset is, as people say it: a hive in one season.
alter table datasets add column one_row text not null default '';
