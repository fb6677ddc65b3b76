-- +goose Up
-- Keys of scripts, as their SHA-256: whoever reads the table cannot use them.
create table keys (
    id         bigint generated always as identity primary key,
    space_id   bigint not null references spaces on delete cascade,
    person_id  bigint not null references people on delete cascade, -- whose role it cannot exceed
    name       text not null,
    token_hash bytea not null unique,
    scopes     text[] not null,
    dataset_id bigint references datasets on delete cascade, -- the only one that it may add rows to; null: any
    created_at timestamptz not null default now(),
    expires_at timestamptz not null,
    used_at    timestamptz
);
create index keys_space on keys (space_id);
create index keys_person on keys (person_id);
create index keys_dataset on keys (dataset_id);

-- What a request that made something was answered, so that the same request sent again makes nothing twice.
create table key_answers (
    key_id       bigint not null references keys on delete cascade,
    said         text not null, -- the request's Idempotency-Key
    request_hash bytea not null,
    status       integer not null, -- 0: it is being answered
    kind         text not null default '',
    body         bytea not null default '',
    created_at   timestamptz not null default now(),
    primary key (key_id, said)
);
