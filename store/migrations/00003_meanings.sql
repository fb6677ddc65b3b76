-- +goose Up
-- Where a dataset comes from, and what its columns mean: the dictionary of people,
-- whatever version is looked at.
alter table datasets add column origin text not null default '';

create table column_meanings (
    dataset_id bigint not null references datasets on delete cascade,
    name       text not null, -- of the column, as in the file
    label      text not null,
    unit       text not null,
    meaning    text not null,
    codes      jsonb not null, -- what each value of a column of groups stands for
    primary key (dataset_id, name)
);
