-- +goose Up
-- Sealed records of other sites, taken in after they were verified and their key compared. They are no evidence of this
-- site: they stand apart and are never counted among its own.
create table elsewhere_records (
  mark text primary key,
  site text not null,
  number text not null,
  tag text not null,
  name text not null,
  target text not null,
  verdict text not null,
  sealed_at timestamptz not null,
  key_id text not null,
  taken_by text not null,
  taken_at timestamptz not null,
  file bytea not null,
  unique (site, number)
);
create trigger keep before update or delete on elsewhere_records for each row execute function refuse_change();
create trigger keep_all before truncate on elsewhere_records for each statement execute function refuse_change();
grant select, insert on elsewhere_records to dynacor_app;

-- +goose Down
drop table elsewhere_records;
