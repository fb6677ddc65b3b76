-- +goose Up
-- The figure of a fixed copy of many dots once more, their places as exact as they can be: for looking closely.
alter table shares add column exact bytea;
