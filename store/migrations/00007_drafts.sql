-- +goose Up
-- A preparation that a person tries and has not kept: one for each dataset.
create table drafts (
    person_id  bigint not null references people on delete cascade,
    dataset_id bigint not null references datasets on delete cascade,
    typed      text not null,
    changed_at timestamptz not null default now(),
    primary key (person_id, dataset_id)
);
create index drafts_dataset on drafts (dataset_id);

-- How a person wanted a file read, so that the next file of a dataset is read the same way.
alter table dataset_versions add column reading jsonb not null default '{}';
