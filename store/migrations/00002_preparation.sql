-- +goose Up
-- A version is read from a file, or prepared from another version.
alter table dataset_versions add column prepared_from bigint references dataset_versions on delete cascade;
alter table dataset_versions add column preparation jsonb;
