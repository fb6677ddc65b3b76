-- +goose Up
alter table members drop constraint members_role_check;
update members set role = 'maker' where role = 'member';
alter table members add constraint members_role_check check (role in ('owner', 'maker', 'reader'));
alter table members add column visited_at timestamptz; -- when the person was last in the space; null: not yet

alter table spaces add column factor_of text[] not null default '{}'; -- the roles that a second factor is asked of
alter table spaces add column leaves_at timestamptz; -- when an owner's wish to delete it is carried out

alter table sessions add column id bigint generated always as identity unique;
alter table sessions add column device text not null default '';
alter table sessions add column address text not null default '';
alter table sessions add column seen_at timestamptz not null default now();
alter table sessions add column strong boolean not null default false; -- a second factor was shown

alter table sign_in_links add column for_password boolean not null default false; -- it leads to a new password, not in

-- The user handle that passkeys know a person by; it says nothing of them.
alter table people add column handle uuid not null default gen_random_uuid();

-- The key can be copied again by owners, so it is kept as it is; it ends by itself.
create table invitations (
    id         bigint generated always as identity primary key,
    space_id   bigint not null references spaces on delete cascade,
    key        text not null unique,
    role       text not null check (role in ('owner', 'maker', 'reader')),
    email      text not null default '', -- whose address must match; empty: anybody's
    most_uses  integer not null check (most_uses > 0),
    uses       integer not null default 0,
    made_by    bigint references people on delete set null,
    created_at timestamptz not null default now(),
    expires_at timestamptz not null
);
create index invitations_space on invitations (space_id);
create index invitations_made on invitations (made_by);

create table second_factors (
    person_id    bigint primary key references people on delete cascade,
    secret       text not null, -- base32, RFC 4648
    confirmed_at timestamptz,
    last_step    bigint not null default 0 -- of the code that was used last: none works twice
);
create table recovery_codes (
    person_id bigint not null references people on delete cascade,
    code_hash bytea not null,
    primary key (person_id, code_hash)
);
create table passkeys (
    id         bytea primary key,
    person_id  bigint not null references people on delete cascade,
    name       text not null,
    credential jsonb not null,
    created_at timestamptz not null default now(),
    used_at    timestamptz
);
create index passkeys_person on passkeys (person_id);

-- What a sign-in of several steps remembers between them.
create table ceremonies (
    token_hash bytea primary key,
    held       jsonb not null,
    expires_at timestamptz not null
);

-- Who somebody is at the organisation that people sign in through.
create table identities (
    issuer    text not null,
    subject   text not null,
    person_id bigint not null references people on delete cascade,
    primary key (issuer, subject)
);
create index identities_person on identities (person_id);
