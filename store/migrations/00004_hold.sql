-- +goose Up
-- A trail only grows, and goes as a whole with its chart: what a step follows is checked
-- when it is added, so that deleting a chart of many steps asks nothing of each.
alter table steps drop constraint steps_parent_id_fkey;
alter table charts drop constraint charts_head_step_id_fkey;
-- How many steps somebody kept today.
create index steps_made on steps (created_by, created_at);

-- An index behind every reference, so that deleting what it refers to reads no table whole.
create index members_person on members (person_id);
create index sessions_person on sessions (person_id);
create index sign_in_links_person on sign_in_links (person_id);
create index datasets_made on datasets (created_by);
create index dataset_versions_from on dataset_versions (prepared_from);
create index charts_version on charts (version_id);
create index charts_made on charts (created_by);
create index shares_chart on shares (chart_id);
create index shares_version on shares (version_id);
create index shares_made on shares (created_by);

-- What a space has room for; the size of a version is that of its packed columns.
alter table dataset_versions add column byte_size bigint not null default 0;
update dataset_versions v set byte_size = (select coalesce(sum(length(c.data) + length(c.levels)), 0) from dataset_columns c where c.version_id = v.id);

-- A share publishes a table of its own: the rows and columns that it shows, as they were.
create table share_columns (
    share_id bigint not null references shares on delete cascade,
    position integer not null,
    name     text not null,
    label    text not null,
    unit     text not null,
    meaning  text not null,
    kind     text not null,
    grain    text not null,
    encoding text not null,
    levels   bytea not null,
    data     bytea not null,
    primary key (share_id, position)
);
alter table share_columns alter column data set storage external;
alter table share_columns alter column levels set storage external;
alter table shares add column row_count integer; -- of its table; null: shared before tables were kept

-- A file that was read and not yet kept, wherever it arrived: any server can keep it.
create table waiting_files (
    key_hash    bytea primary key,
    space_id    bigint not null references spaces on delete cascade,
    person_id   bigint not null references people on delete cascade,
    name        text not null,
    byte_size   bigint not null, -- of what the file unpacks to
    options     jsonb not null,  -- how it is read
    created_at  timestamptz not null default now()
);
create index waiting_files_person on waiting_files (person_id);
create index waiting_files_space on waiting_files (space_id);
create index waiting_files_age on waiting_files (created_at);
-- Not logged: a crash of the database forgets what nobody kept, and the file is sent again.
create unlogged table waiting_parts (
    key_hash bytea not null references waiting_files on delete cascade,
    position integer not null,
    data     bytea not null, -- a stretch of the file, zstd
    primary key (key_hash, position)
);
alter table waiting_parts alter column data set storage external;

-- Who did what, for the owners of a space; entries are only ever added.
create table audit (
    id         bigint generated always as identity primary key,
    space_id   bigint references spaces on delete cascade,
    person_id  bigint references people on delete set null,
    who        text not null, -- the name or the address that was given, as it was then
    did        text not null,
    what       text not null,
    address    text not null, -- where the request came from
    created_at timestamptz not null default now()
);
create index audit_space on audit (space_id, id desc);
create index audit_person on audit (person_id);
