-- +goose Up

-- A joint that left the plant: why, and how it stood before, so that it can come back as it was. Its records stay.
alter table joints add column retired_why text not null default '', add column retired_from text not null default '';
grant update (retired_why, retired_from) on joints to dynacor_app;
drop trigger audit_change on joints;
create trigger audit_change after update of tag, name, area, equipment, service, family, package, nameplate, specification_version, retired_why on joints for each row execute function audit_row('tag');

-- What is retired no longer counts.
-- +goose StatementBegin
create or replace function count_changed_joint() returns trigger language plpgsql security definer set search_path = public, pg_temp as $$
begin
  update area_totals set total = total - (old.glyph <> 'retired')::int, accepted = accepted - (old.glyph = 'accepted')::int where area = old.area;
  delete from area_totals where area = old.area and total = 0;
  if new.glyph <> 'retired' then
    insert into area_totals as t values (new.area, 1, (new.glyph = 'accepted')::int)
    on conflict (area) do update set total = t.total + 1, accepted = t.accepted + excluded.accepted;
  end if;
  return null;
end $$;
-- +goose StatementEnd
drop trigger count_changed on joints;
create trigger count_changed after update on joints for each row
  when (old.area is distinct from new.area or (old.glyph = 'accepted') is distinct from (new.glyph = 'accepted') or (old.glyph = 'retired') is distinct from (new.glyph = 'retired')) execute function count_changed_joint();

-- Each import of a register, and what it did to each joint, so that it can be undone.
create table imports (
  id uuid primary key,
  made_by text not null,
  made_at timestamptz not null,
  added integer not null,
  changed integer not null,
  undone_by text not null default '',
  undone_at timestamptz
);
create table import_lines (
  import_id uuid not null references imports,
  joint_id uuid not null references joints,
  does text not null check (does in ('new', 'changed', 'restored')),
  before text not null, -- its place before, '' for a new joint
  after text not null,
  specification_before integer not null,
  specification_after integer not null,
  primary key (import_id, joint_id)
);
grant select, insert, update (undone_by, undone_at) on imports to dynacor_app;
grant select, insert on import_lines to dynacor_app;
create trigger audit after insert on imports referencing new table as fresh for each statement execute function audit_added('id');
create trigger audit_change after update on imports for each row execute function audit_row('id');

-- Backups as they were written, by the owner's own command; whoever serves only looks.
create table backups (
  at timestamptz primary key default now(),
  file text not null,
  bytes bigint not null,
  sha256 text not null
);
grant select on backups to dynacor_app;
create trigger keep before update or delete on backups for each row execute function refuse_change();

-- A device has a name that people know it by, and one that is lost is shut out: what it sent before stays.
alter table device_keys add column name text not null default '', add column shut_at timestamptz;
grant update (name, shut_at) on device_keys to dynacor_app;
create trigger audit_change after update of name, shut_at on device_keys for each row execute function audit_row('id');

-- A site's own flange sizes stand before the typical ones.
alter table library_values drop constraint library_values_shelf_check;
alter table library_values add constraint library_values_shelf_check check (shelf in ('lubricants', 'materials', 'gaskets', 'threads', 'tables', 'flanges'));

-- +goose Down
drop trigger audit_change on device_keys;
alter table device_keys drop column name, drop column shut_at;
drop table backups;
delete from library_values where shelf = 'flanges';
alter table library_values drop constraint library_values_shelf_check;
alter table library_values add constraint library_values_shelf_check check (shelf in ('lubricants', 'materials', 'gaskets', 'threads', 'tables'));
drop table import_lines, imports;
drop trigger count_changed on joints;
-- +goose StatementBegin
create or replace function count_changed_joint() returns trigger language plpgsql security definer set search_path = public, pg_temp as $$
begin
  update area_totals set total = total - 1, accepted = accepted - (old.glyph = 'accepted')::int where area = old.area;
  delete from area_totals where area = old.area and total = 0;
  insert into area_totals as t values (new.area, 1, (new.glyph = 'accepted')::int)
  on conflict (area) do update set total = t.total + 1, accepted = t.accepted + excluded.accepted;
  return null;
end $$;
-- +goose StatementEnd
create trigger count_changed after update on joints for each row
  when (old.area is distinct from new.area or (old.glyph = 'accepted') is distinct from (new.glyph = 'accepted')) execute function count_changed_joint();
drop trigger audit_change on joints;
create trigger audit_change after update of tag, name, area, equipment, service, family, package, nameplate, specification_version on joints for each row execute function audit_row('tag');
alter table joints drop column retired_why, drop column retired_from;
