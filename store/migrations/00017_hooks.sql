-- +goose Up
-- Addresses of other programs that are told what happens in a space.
create table hooks (
    id         bigint generated always as identity primary key,
    space_id   bigint not null references spaces on delete cascade,
    made_by    bigint references people on delete set null,
    address    text not null,
    secret     text not null, -- what calls are signed with: it must be known to sign
    created_at timestamptz not null default now()
);
create index hooks_space on hooks (space_id);
create index hooks_made on hooks (made_by);

create table hook_calls (
    id         bigint generated always as identity primary key,
    hook_id    bigint not null references hooks on delete cascade,
    event      text not null,
    body       jsonb not null,
    tries      integer not null default 0,
    next_at    timestamptz not null default now(), -- when it is tried; of one that is over, when it was over
    over       boolean not null default false,
    said       text not null default '', -- what came of the last try
    created_at timestamptz not null default now()
);
create index hook_calls_hook on hook_calls (hook_id, id desc);
create index hook_calls_due on hook_calls (next_at) where not over;
