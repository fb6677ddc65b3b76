-- +goose Up
-- Patterns: sentences whose columns are blanks. They stand with the picture of the chart that they were made of, while it is there.
create table patterns (
    id         bigint generated always as identity primary key,
    space_id   bigint not null references spaces on delete cascade,
    name       text not null,
    document   jsonb not null,
    blanks     jsonb not null,
    chart_id   bigint references charts on delete set null,
    step_id    bigint references steps on delete set null,
    created_by bigint references people on delete set null,
    created_at timestamptz not null default now()
);
create index patterns_space on patterns (space_id, id desc);
create index patterns_chart on patterns (chart_id);
create index patterns_step on patterns (step_id);
create index patterns_made on patterns (created_by);

-- Looks and scales of a finished chart, kept under a name: clauses as they are typed.
create table looks (
    id         bigint generated always as identity primary key,
    space_id   bigint not null references spaces on delete cascade,
    name       text not null,
    looks      text[] not null,
    scales     text[] not null,
    created_by bigint references people on delete set null,
    created_at timestamptz not null default now()
);
create index looks_space on looks (space_id, id desc);
create index looks_made on looks (created_by);
