-- +goose Up

-- Tables of torques by type and size stand on a shelf of the library.
alter table library_values drop constraint library_values_shelf_check;
alter table library_values add constraint library_values_shelf_check check (shelf in ('lubricants', 'materials', 'gaskets', 'threads', 'tables'));

-- The site's own versions of procedures. Each is written once; an engineer approves it before work is planned by it.
create table procedures (
  code text not null check (code <> ''),
  version integer not null check (version > 0),
  name text not null,
  yaml text not null,
  data text not null,
  made_by text not null,
  reason text not null,
  made_at timestamptz not null default now(),
  approved_by text not null default '',
  approved_at timestamptz,
  primary key (code, version)
);

-- Which version a plan was made by; 0: before procedures had versions of the site's own.
alter table plans add column procedure_version integer not null default 0;

grant select, insert on procedures to dynacor_app;
grant update (approved_by, approved_at) on procedures to dynacor_app;

-- +goose Down
alter table plans drop column procedure_version;
drop table procedures;
delete from plan_uses where shelf = 'tables';
alter table library_values disable trigger keep;
delete from library_values where shelf = 'tables';
alter table library_values enable trigger keep;
alter table library_values drop constraint library_values_shelf_check;
alter table library_values add constraint library_values_shelf_check check (shelf in ('lubricants', 'materials', 'gaskets', 'threads'));
