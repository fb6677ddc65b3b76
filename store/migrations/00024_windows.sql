-- +goose Up
-- Windows that have a chart, a dataset or a page open, and where in it somebody writes; one that was not seen for a while is none.
drop table chart_windows;
create table windows (
    id         text primary key,
    chart_id   bigint references charts on delete cascade,
    dataset_id bigint references datasets on delete cascade,
    page_id    bigint references pages on delete cascade,
    person_id  bigint not null references people on delete cascade,
    place      text not null default '', -- a block of a page, a column of a dataset; empty: nowhere
    seen_at    timestamptz not null default now(),
    check (num_nonnulls(chart_id, dataset_id, page_id) = 1)
);
create index windows_chart on windows (chart_id);
create index windows_dataset on windows (dataset_id);
create index windows_page on windows (page_id);
create index windows_person on windows (person_id);

-- Counts what changed of a dataset: its versions, its meanings, what is said of it.
alter table datasets add column changes bigint not null default 0;
