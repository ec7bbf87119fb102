-- +goose Up
-- Tests under pressure. What one is to be is kept in versions, the last of which holds; it cannot change once something was
-- recorded. Its events only grow. A test that is closed has a sealed sheet.
create table pressure_test_specs (
  tag text not null,
  version int not null check (version > 0),
  at timestamptz not null,
  by_name text not null,
  withdrawn text not null default '', -- why it is not to be done
  spec text not null,
  primary key (tag, version)
);
create table pressure_test_events (
  tag text not null,
  seq int not null check (seq > 0),
  id uuid not null unique,
  at timestamptz not null,
  person_id uuid not null references people,
  body text not null,
  primary key (tag, seq)
);
create table pressure_test_sheets (
  tag text primary key,
  mark text not null unique,
  verdict text not null,
  says text not null,
  sealed_at timestamptz not null,
  key_id text not null references signing_keys,
  file bytea not null
);
create trigger keep before update or delete on pressure_test_specs for each row execute function refuse_change();
create trigger keep_all before truncate on pressure_test_specs for each statement execute function refuse_change();
create trigger keep before update or delete on pressure_test_events for each row execute function refuse_change();
create trigger keep_all before truncate on pressure_test_events for each statement execute function refuse_change();
create trigger keep before update or delete on pressure_test_sheets for each row execute function refuse_change();
create trigger keep_all before truncate on pressure_test_sheets for each statement execute function refuse_change();
grant select, insert on pressure_test_specs, pressure_test_events, pressure_test_sheets to dynacor_app;
alter table anchor_leaves drop constraint anchor_leaves_kind_check,
  add constraint anchor_leaves_kind_check check (kind in ('run', 'record', 'audit', 'addition', 'test'));

-- +goose Down
alter table anchor_leaves drop constraint anchor_leaves_kind_check,
  add constraint anchor_leaves_kind_check check (kind in ('run', 'record', 'audit', 'addition')) not valid;
drop table pressure_test_sheets, pressure_test_events, pressure_test_specs;
