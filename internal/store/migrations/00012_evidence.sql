-- +goose Up

-- A tool as it stood, every version of it: what the evidence of a record rests on is not written over.
create table tool_versions (
  tag text not null references tools,
  version integer not null check (version > 0),
  data text not null,
  made_by text not null,
  reason text not null,
  made_at timestamptz not null,
  primary key (tag, version)
);
create trigger keep before update or delete on tool_versions for each row execute function refuse_change();
create trigger keep_all before truncate on tool_versions for each statement execute function refuse_change();
insert into tool_versions (tag, version, data, made_by, reason, made_at) select tag, 1, data, 'before versions were kept', 'as it stood', updated_at from tools;

-- A passed check moves the last good evidence only when somebody made it who may.
alter table tool_checks add column counts boolean not null default true;

grant select, insert on tool_versions to dynacor_app;

-- +goose Down
alter table tool_checks drop column counts;
drop table tool_versions;
