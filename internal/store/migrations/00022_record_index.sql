-- +goose Up
-- What records are searched by. All of it follows from the sealed records and what stands behind them, and is made anew
-- when the program learns to find by more: version says by which rules.
create table record_index (
  number text primary key references records,
  version int not null,
  sealed_at timestamptz not null,
  search text not null, -- small letters
  facets text[] not null -- kind:value
);
insert into record_index (number, version, sealed_at, search, facets)
select number, 0, sealed_at, lower(number || ' ' || tag || ' ' || name || ' ' || area || ' ' || tightened_by || ' ' || proved_by), '{}' from records;
create index record_index_at on record_index (sealed_at desc, number desc);
create index record_index_search on record_index using gin (search gin_trgm_ops);
create index record_index_facets on record_index using gin (facets);
create index record_index_old on record_index (version);
-- How many records have each facet: what is offered to choose from, and how many a search by one of them finds.
create table record_facets (
  facet text primary key,
  total int not null
);
create table saved_searches (
  person_id uuid not null references people,
  name text not null,
  query text not null,
  made_at timestamptz not null,
  primary key (person_id, name)
);
grant select, insert, update (version, search, facets) on record_index to dynacor_app;
grant select, insert, update (total) on record_facets to dynacor_app;
grant select, insert, delete, update (query, made_at) on saved_searches to dynacor_app;

-- +goose Down
drop table saved_searches, record_facets, record_index;
