-- +goose Up
-- What the rows that were set aside said of a chart: asked once, by whom, and when.
create table chart_answers (
    chart_id bigint primary key references charts on delete cascade,
    asked_by bigint references people on delete set null,
    asked_at timestamptz not null default now(),
    row_count integer not null,
    document jsonb not null, -- the relation that was asked about
    words    text not null
);
create index chart_answers_asked_by on chart_answers (asked_by);
