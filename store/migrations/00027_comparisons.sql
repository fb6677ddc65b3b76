-- +goose Up
-- Comparisons that are kept: which two charts, at which steps, over which versions.
create table comparisons (
    id         bigint generated always as identity primary key,
    space_id   bigint not null references spaces on delete cascade,
    name       text not null,
    sides      jsonb not null,
    a_chart_id bigint not null references charts on delete cascade,
    b_chart_id bigint not null references charts on delete cascade,
    created_by bigint references people on delete set null,
    created_at timestamptz not null default now()
);
create index comparisons_space on comparisons (space_id, id desc);
create index comparisons_a on comparisons (a_chart_id);
create index comparisons_b on comparisons (b_chart_id);
create index comparisons_made on comparisons (created_by);
