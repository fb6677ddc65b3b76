-- +goose Up
-- Pages: stories of texts and charts.
create table pages (
    id         bigint generated always as identity primary key,
    space_id   bigint not null references spaces on delete cascade,
    contents   jsonb not null,
    revision   bigint not null default 1, -- counts what was kept
    created_by bigint references people on delete set null,
    changed_by bigint references people on delete set null,
    created_at timestamptz not null default now(),
    changed_at timestamptz not null default now()
);
create index pages_space on pages (space_id, changed_at desc);
create index pages_created on pages (created_by);
create index pages_changed on pages (changed_by);

-- How a page was, before somebody else or some time later it was written on.
create table page_versions (
    id         bigint generated always as identity primary key,
    page_id    bigint not null references pages on delete cascade,
    contents   jsonb not null,
    written_by bigint references people on delete set null,
    written_at timestamptz not null
);
create index page_versions_page on page_versions (page_id, id desc);
create index page_versions_written on page_versions (written_by);
