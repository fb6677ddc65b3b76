-- +goose Up
-- How the rows of a fixed copy were prepared: the clauses, one a line, with the rows that each left.
alter table shares add column made text not null default '';
