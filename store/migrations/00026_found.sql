-- +goose Up
-- What a chart is found by: the words of its sentence, its columns, their meanings, and its reading, as they were worded for a step
-- over a version.
alter table charts
    add column found_by text not null default '',
    add column worded text not null default ''; -- for which step, version and meanings
create index charts_changed on charts (space_id, changed_at desc, id desc);
create index steps_marked on steps (chart_id) where pinned or name <> '';
