-- +goose Up
-- A simple list of what is there of what work takes: as a need is called, how much, where, and until when.
create table stock (
  id uuid primary key,
  kind text not null check (kind in ('part', 'spare', 'supply', 'lubricant')),
  what text not null,
  quantity double precision not null check (quantity >= 0),
  place text not null default '',
  use_by date,
  changed_by text not null,
  changed_at timestamptz not null
);
create index stock_what on stock (kind, what);
grant select, insert, delete, update (kind, what, quantity, place, use_by, changed_by, changed_at) on stock to dynacor_app;

-- +goose Down
drop table stock;
