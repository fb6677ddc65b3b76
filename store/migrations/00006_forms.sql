-- +goose Up
-- How the numbers of a column are written belongs to the column.
alter table column_meanings add column form text not null default '';
