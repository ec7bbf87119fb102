-- +goose Up
-- Who was asked to supply what the book of a work package lacks: a message each. It is no evidence, but stays.
create table asks (
  id uuid primary key,
  package text not null references packages,
  person_id uuid not null references people,
  person_name text not null,
  by_name text not null,
  at timestamptz not null,
  gaps jsonb not null,
  seen_at timestamptz
);
create index asks_person on asks (person_id) where seen_at is null;
create index asks_package on asks (package, at desc);
grant select, insert, update (seen_at) on asks to dynacor_app;

-- +goose Down
drop table asks;
