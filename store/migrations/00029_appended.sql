-- +goose Up
-- Versions that rows were added by: of those of a day the last one stays, and those that something stands on.
alter table dataset_versions add column appended boolean not null default false;
create index dataset_versions_appended on dataset_versions (created_at) where appended;
