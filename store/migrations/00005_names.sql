-- +goose Up
-- A chart's name follows its sentence until a person says one. Names of earlier charts that
-- do not read like a sentence were said.
alter table charts add column named boolean not null default false;
update charts set named = true where name not like '% against %';
