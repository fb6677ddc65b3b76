-- +goose Up
-- How many decimals all numbers of a column were written with where they came from; 0 where nobody knows.
alter table dataset_columns add column decimals smallint not null default 0;
alter table share_columns add column decimals smallint not null default 0;
