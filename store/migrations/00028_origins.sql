-- +goose Up
-- Where a dataset's file comes from again: a file in a folder that whoever runs the server names, or an address on their list.
create table origins (
    dataset_id    bigint primary key references datasets on delete cascade,
    place         text not null,
    every         text not null check (every in ('never', 'hour', 'day', 'week')),
    secret        bytea, -- what is told to the host, sealed; null: nothing
    etag          text not null default '',
    last_modified text not null default '',
    next_at       timestamptz, -- null: it is asked by a press alone, or was stopped
    stopped       text not null default '', -- why it is asked no longer, until somebody says so
    set_by        bigint references people on delete set null,
    set_at        timestamptz not null default now()
);
create index origins_next on origins (next_at) where next_at is not null;
create index origins_set on origins (set_by);

create table origin_runs (
    id         bigint generated always as identity primary key,
    dataset_id bigint not null references datasets on delete cascade,
    at         timestamptz not null default now(),
    outcome    text not null check (outcome in ('new', 'same', 'stopped', 'failed')),
    words      text not null,
    version_id bigint references dataset_versions on delete set null,
    asked_by   bigint references people on delete set null -- null: it was time
);
create index origin_runs_dataset on origin_runs (dataset_id, id desc);
create index origin_runs_version on origin_runs (version_id);
create index origin_runs_asked on origin_runs (asked_by);
