-- +goose Up
-- A share is of a chart, or of a page with its charts: then each chart is a row below it, and so is what it was before it
-- followed what changed. Who may open it, and until when, is said of the one above all.
alter table shares
    add column parent_id bigint references shares on delete cascade,
    add column root_id bigint references shares on delete cascade, -- whose address is asked; null: it is its own
    add column earlier boolean not null default false,
    add column position integer not null default 0,
    add column block text not null default '', -- of the page, that shows it
    add column page_id bigint references pages on delete set null,
    add column contents jsonb, -- of a page
    add column phone bytea, -- the figure, laid out for a phone
    add column preview bytea, -- a picture for previews of its link, PNG
    add column links bytea, -- what its rows are called in all charts of the page, little-endian numbers of 4 bytes
    add column live boolean not null default false,
    add column people_only boolean not null default false,
    add column password_hash text not null default '',
    add column until timestamptz,
    add column gives_rows boolean not null default true,
    add column tells_made boolean not null default true,
    add column columns text[], -- that were ticked; null: those that the sentence names
    add column made_of text not null default '', -- of a live one: what it was made of
    add column changed_at timestamptz, -- of a live one: when it last followed
    add column trouble text not null default ''; -- of a live one: why it does not follow
create index shares_parent on shares (parent_id);
create index shares_root on shares (root_id);
create index shares_page on shares (page_id);
alter table shares alter column phone set storage external;
alter table shares alter column preview set storage external;

-- How often a share was opened, by day; of whom is not kept.
create table share_opens (
    share_id bigint not null references shares on delete cascade,
    day      date not null,
    opened   integer not null default 0,
    primary key (share_id, day)
);
