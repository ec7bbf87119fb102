-- +goose Up
-- Notes with which a shift hands its work to the next, as they were written; who takes over signs once.
create table handovers (
  id uuid primary key,
  from_at timestamptz not null,
  to_at timestamptz not null,
  made_by text not null,
  made_by_id uuid not null references people,
  note jsonb not null,
  words text not null default '',
  taken_by text not null default '',
  taken_by_id uuid references people,
  taken_at timestamptz,
  confirmed jsonb not null default '[]' -- runs that whoever takes over found as they are told
);
create index handovers_to on handovers (to_at desc);
grant select, insert, update (taken_by, taken_by_id, taken_at, confirmed) on handovers to dynacor_app;

-- +goose Down
drop table handovers;
