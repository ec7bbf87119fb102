-- +goose Up
-- What is added behind a sealed record: each is signed, chained to the one before it, and never changed.
create table additions (
  number text not null references records,
  seq int not null check (seq > 0),
  at timestamptz not null,
  kind text not null,
  person_id uuid not null references people,
  hash text not null,
  body text not null, -- canonical text, which the signature covers
  signature text not null,
  key_id text not null references signing_keys,
  primary key (number, seq)
);
create trigger keep before update or delete on additions for each row execute function refuse_change();
create trigger keep_all before truncate on additions for each statement execute function refuse_change();
grant select, insert on additions to dynacor_app;
alter table anchor_leaves drop constraint anchor_leaves_kind_check,
  add constraint anchor_leaves_kind_check check (kind in ('run', 'record', 'audit', 'addition'));

-- +goose Down
alter table anchor_leaves drop constraint anchor_leaves_kind_check;
drop table additions;
