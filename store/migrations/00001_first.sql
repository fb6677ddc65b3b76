-- +goose Up
create table spaces (
    id         bigint generated always as identity primary key,
    name       text not null,
    created_at timestamptz not null default now()
);

create table people (
    id            bigint generated always as identity primary key,
    email         text not null,
    name          text not null,
    password_hash text not null, -- argon2id with its parameters; empty: no password, links only
    created_at    timestamptz not null default now()
);
create unique index people_email on people (lower(email));

create table members (
    space_id  bigint not null references spaces on delete cascade,
    person_id bigint not null references people on delete cascade,
    role      text not null check (role in ('owner', 'member')),
    primary key (space_id, person_id)
);

-- Tokens are kept as their SHA-256: whoever reads the table cannot sign in with it.
create table sessions (
    token_hash bytea primary key,
    person_id  bigint not null references people on delete cascade,
    created_at timestamptz not null default now(),
    expires_at timestamptz not null
);

create table sign_in_links (
    token_hash bytea primary key,
    person_id  bigint not null references people on delete cascade,
    expires_at timestamptz not null,
    used_at    timestamptz
);

create table datasets (
    id         bigint generated always as identity primary key,
    space_id   bigint not null references spaces on delete cascade,
    name       text not null,
    about      text not null default '',
    created_by bigint references people on delete set null,
    created_at timestamptz not null default now()
);
create index datasets_space on datasets (space_id, created_at desc);

-- A version never changes once it is there.
create table dataset_versions (
    id         bigint generated always as identity primary key,
    dataset_id bigint not null references datasets on delete cascade,
    number     integer not null,
    row_count  integer not null,
    file_name  text not null,
    report     jsonb not null, -- how the file was read
    created_at timestamptz not null default now(),
    unique (dataset_id, number)
);

create table dataset_columns (
    version_id bigint not null references dataset_versions on delete cascade,
    position   integer not null,
    name       text not null,
    label      text not null,
    unit       text not null,
    meaning    text not null,
    kind       text not null,
    grain      text not null,
    encoding   text not null, -- how data and levels are packed, see package store
    levels     bytea not null,
    data       bytea not null,
    primary key (version_id, position)
);
-- The data is compressed already.
alter table dataset_columns alter column data set storage external;
alter table dataset_columns alter column levels set storage external;

create table charts (
    id         bigint generated always as identity primary key,
    space_id   bigint not null references spaces on delete cascade,
    version_id bigint not null references dataset_versions on delete cascade,
    name       text not null,
    created_by bigint references people on delete set null,
    created_at timestamptz not null default now(),
    changed_at timestamptz not null default now()
);
create index charts_space on charts (space_id, changed_at desc);

-- The trail: each step holds the whole document, and which step it came from.
create table steps (
    id         bigint generated always as identity primary key,
    chart_id   bigint not null references charts on delete cascade,
    parent_id  bigint references steps on delete cascade,
    document   jsonb not null,
    words      text not null,
    created_by bigint references people on delete set null,
    created_at timestamptz not null default now()
);
create index steps_chart on steps (chart_id, id);
alter table charts add column head_step_id bigint references steps on delete set null;

-- A fixed copy: the figure as it was, whatever happens to the chart.
create table shares (
    id           bigint generated always as identity primary key,
    key          text not null unique,
    space_id     bigint not null references spaces on delete cascade,
    chart_id     bigint references charts on delete set null,
    version_id   bigint references dataset_versions on delete set null,
    title        text not null,
    body         text not null,
    source       text not null,
    typed        text not null,
    figure       bytea not null, -- encoded figure with its reading, zstd
    created_by   bigint references people on delete set null,
    created_at   timestamptz not null default now(),
    withdrawn_at timestamptz
);
create index shares_space on shares (space_id, created_at desc);
alter table shares alter column figure set storage external;
