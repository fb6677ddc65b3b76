-- +goose Up
-- A step can have a name and be pinned; a branch that was taken out is kept, so that one press brings it back.
alter table steps
    add column name text not null default '',
    add column pinned boolean not null default false,
    add column taken_out_at timestamptz;

-- Where each person stands on the trail of a chart; who has none stands where the chart does.
create table chart_cursors (
    chart_id  bigint not null references charts on delete cascade,
    person_id bigint not null references people on delete cascade,
    step_id   bigint not null references steps on delete cascade,
    moved_at  timestamptz not null default now(),
    primary key (chart_id, person_id)
);
create index chart_cursors_person on chart_cursors (person_id);
create index chart_cursors_step on chart_cursors (step_id);
