-- +goose Up
-- What happened on the trail of a chart, numbered under its lock, so that a window that follows it misses nothing and is told
-- nothing twice.
alter table charts add column events bigint not null default 0;
create table chart_events (
    chart_id  bigint not null references charts on delete cascade,
    number    bigint not null,
    step_id   bigint references steps on delete cascade, -- that was kept; null: the trail is to be read again
    at        timestamptz not null default now(),
    primary key (chart_id, number)
);
create index chart_events_step on chart_events (step_id);
create index chart_events_at on chart_events (at);

-- Windows that have a chart open; one that was not seen for a while is none.
create table chart_windows (
    id        text primary key,
    chart_id  bigint not null references charts on delete cascade,
    person_id bigint not null references people on delete cascade,
    seen_at   timestamptz not null default now()
);
create index chart_windows_chart on chart_windows (chart_id);
create index chart_windows_person on chart_windows (person_id);
