-- +goose Up

-- The crib keeps tools of every kind, not wrenches alone.
alter table wrenches rename to tools;

-- An event names every tool of the set-up it was done with, joined with a plus: trace-back finds multipliers and pumps too.
drop index events_wrench;
alter table events rename column wrench to tools;
create index events_tools on events using gin (string_to_array(tools, '+')) where kind = 'pulled' and tools <> '';

-- Which tools a plan was made with: two joints that want one tool at once are told.
create table plan_tools (
  plan_id uuid not null references plans,
  tag text not null,
  primary key (plan_id, tag)
);
create index plan_tools_tag on plan_tools (tag);

-- Photos and certificates of tools.
create table tool_files (
  id uuid primary key,
  tag text not null references tools,
  kind text not null check (kind in ('photo', 'certificate')),
  name text not null,
  media_type text not null check (media_type in ('image/jpeg', 'image/png', 'image/webp', 'application/pdf')),
  bytes bytea not null,
  digest text not null,
  added_by text not null,
  at timestamptz not null default now()
);
create index tool_files_tag on tool_files (tag, at desc);
create trigger keep before update or delete on tool_files for each row execute function refuse_change();

-- A look at a joint in doubt can be planned: by whom, by when.
alter table doubts add column due_on date, add column assigned_to text not null default '';
grant update (due_on, assigned_to) on doubts to dynacor_app;

-- Tools that send what they measure. The token is kept as a hash; last_seq is the last result taken in without a gap.
create table devices (
  tag text primary key references tools,
  token_hash text not null,
  last_seq integer not null default 0,
  linked_at timestamptz,
  about text not null default '{}',
  made_by text not null,
  made_at timestamptz not null default now()
);

create table device_results (
  tag text not null references devices,
  seq integer not null,
  at timestamptz not null,
  received_at timestamptz not null default now(),
  body text not null,
  primary key (tag, seq)
);
create trigger keep before update or delete on device_results for each row execute function refuse_change();

grant select, insert on plan_tools, tool_files, device_results to dynacor_app;
grant select, insert, update on devices to dynacor_app;

-- +goose Down
drop table device_results, devices, tool_files, plan_tools;
alter table doubts drop column due_on, drop column assigned_to;
drop index events_tools;
alter table events rename column tools to wrench;
create index events_wrench on events (wrench, at) where wrench <> '';
alter table tools rename to wrenches;
