-- +goose Up
-- What people say to each other of a chart, a dataset or a page, and of what exactly: a step, rows, a place on the axes, a column.
create table notes (
    id          bigint generated always as identity primary key,
    space_id    bigint not null references spaces on delete cascade,
    chart_id    bigint references charts on delete cascade,
    dataset_id  bigint references datasets on delete cascade,
    page_id     bigint references pages on delete cascade,
    spot        jsonb not null,
    text        text not null,
    created_by  bigint references people on delete set null,
    created_at  timestamptz not null default now(),
    changed_at  timestamptz not null default now(), -- answered, resolved or said otherwise
    resolved_by bigint references people on delete set null,
    resolved_at timestamptz,
    check (num_nonnulls(chart_id, dataset_id, page_id) = 1)
);
create index notes_space on notes (space_id, id desc);
create index notes_chart on notes (chart_id);
create index notes_dataset on notes (dataset_id);
create index notes_page on notes (page_id);
create index notes_made on notes (created_by);
create index notes_resolved on notes (resolved_by);

create table note_answers (
    id         bigint generated always as identity primary key,
    note_id    bigint not null references notes on delete cascade,
    text       text not null,
    created_by bigint references people on delete set null,
    created_at timestamptz not null default now()
);
create index note_answers_note on note_answers (note_id, id);
create index note_answers_made on note_answers (created_by);

-- Whom a note concerns: who is named in it, who made what it is on, who wrote it or answered.
create table note_news (
    note_id   bigint not null references notes on delete cascade,
    person_id bigint not null references people on delete cascade,
    named     boolean not null,
    at        timestamptz not null default now(),
    seen_at   timestamptz, -- null: not yet
    posted_at timestamptz, -- when a letter told of it
    primary key (note_id, person_id)
);
create index note_news_person on note_news (person_id, at desc);

alter table people
    add column letters boolean not null default true, -- a letter a day of notes that concern them
    add column posted_at timestamptz; -- when the last one was written
