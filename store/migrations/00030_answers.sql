-- +goose Up
-- What tables that stay elsewhere answered, for the version that is a sample of them.
create table answers (
	version_id bigint not null references dataset_versions on delete cascade,
	name text not null, -- of the question: a hash of it
	answer bytea not null, -- JSON, packed
	statement text not null,
	took_ms bigint not null,
	parts int not null,
	asked_at timestamptz not null default now(),
	asked_by bigint references people on delete set null,
	primary key (version_id, name)
);
create index answers_asked_by on answers (asked_by) where asked_by is not null;
