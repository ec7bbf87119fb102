-- +goose Up

-- What a wrench showed on the torque meter.
create table tool_checks (
  id uuid primary key,
  tag text not null references wrenches,
  at timestamptz not null default now(),
  made_by text not null,
  passed boolean not null,
  data text not null,
  verdict text not null
);
create index tool_checks_tag on tool_checks (tag, at desc);
create trigger keep before update or delete on tool_checks for each row execute function refuse_change();

-- Joints tightened with a tool since its last good evidence, when the tool is found out. Closed by a look at the joint, with who and how.
create table doubts (
  id uuid primary key,
  tag text not null references wrenches,
  joint_id uuid not null references joints,
  reason text not null,
  last_used timestamptz not null,
  raised_by text not null,
  raised_at timestamptz not null default now(),
  closed_by text not null default '',
  closed_at timestamptz,
  how text not null default ''
);
create unique index doubts_open on doubts (tag, joint_id) where closed_at is null;
create index doubts_joint on doubts (joint_id);

-- Who has which tool, where, since when.
create table tool_loans (
  id uuid primary key,
  tag text not null references wrenches,
  person text not null,
  place text not null,
  out_at timestamptz not null default now(),
  back_by text not null default '',
  back_at timestamptz,
  care text not null default ''
);
create unique index tool_loans_open on tool_loans (tag) where back_at is null;

grant select, insert on tool_checks, doubts, tool_loans to dynacor_app;
grant update (closed_by, closed_at, how) on doubts to dynacor_app;
grant update (back_by, back_at, care) on tool_loans to dynacor_app;

-- +goose Down
drop table tool_loans, doubts, tool_checks;
