-- +goose Up
-- Hand-over books of work packages. What one holds is laid out when its making begins; leaves say how many each entry took,
-- as far as it is drawn. One that is bound stays.
create table dossiers (
  id uuid primary key,
  package text not null references packages,
  sheet int not null check (sheet > 0),
  state text not null check (state in ('making', 'bound', 'stopped', 'failed')),
  begun_at timestamptz not null,
  by_id uuid not null references people,
  by_name text not null,
  book text not null,
  leaves int[] not null default '{}',
  failed text not null default '',
  bound_at timestamptz,
  size bigint not null default 0,
  mark text not null default '', -- SHA-256 of the file
  file bytea,
  files_index text not null default '' -- of its files, signed
);
create unique index dossiers_making on dossiers (package) where state = 'making';
create unique index dossiers_bound on dossiers (package, sheet) where state = 'bound';
create index dossiers_package on dossiers (package, begun_at desc);
-- Leaves that were drawn, by what they were drawn from; kept for a day, or until they are bound.
create table dossier_gatherings (
  key text primary key,
  dossier uuid not null,
  package text not null,
  made_at timestamptz not null,
  leaves int[] not null,
  told text not null, -- what later chapters take from them
  file bytea not null
);
-- +goose StatementBegin
create function keep_bound() returns trigger language plpgsql as $$
begin
  if old.state = 'bound' then
    raise exception 'a book that is bound stays as it is' using errcode = 'insufficient_privilege';
  end if;
  return new;
end $$;
-- +goose StatementEnd
create trigger keep_bound before update on dossiers for each row execute function keep_bound();
create trigger keep before delete on dossiers for each row execute function refuse_change();
create trigger keep_all before truncate on dossiers for each statement execute function refuse_change();
grant select, insert, update (sheet, state, leaves, failed, bound_at, size, mark, file, files_index) on dossiers to dynacor_app;
grant select, insert, delete on dossier_gatherings to dynacor_app;
alter table record_index add column apart boolean not null default false, add column follows text not null default '',
  add column used_at timestamptz not null default 'epoch'; -- when a tool was last used for it
grant update (apart, follows, used_at) on record_index to dynacor_app;
create schema river;
grant usage on schema river to dynacor_app;

-- +goose Down
drop schema river cascade;
alter table record_index drop column apart, drop column follows, drop column used_at;
drop table dossier_gatherings, dossiers;
drop function keep_bound;
