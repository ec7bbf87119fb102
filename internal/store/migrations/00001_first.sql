-- +goose Up

-- Finds any part of a name quickly. A trusted extension: the owner of the database may create it.
create extension if not exists pg_trgm;

-- The application works as this role: it may add events and records, never change them.
-- +goose StatementBegin
do $$
begin
  create role dynacor_app nologin;
exception when duplicate_object or unique_violation then null;
end $$;
-- +goose StatementEnd

create table people (
  id uuid primary key,
  name text not null unique check (name <> ''),
  role text not null check (role in ('technician', 'inspector', 'engineer', 'administrator')),
  pin_hash text not null,
  active boolean not null default true,
  failed_attempts integer not null default 0,
  locked_until timestamptz,
  created_at timestamptz not null default now()
);

create table sessions (
  token text primary key,
  data bytea not null,
  expiry timestamptz not null
);
create index sessions_expiry on sessions (expiry);

-- Who signed in on which device: an event kept without network is accepted from a person who had signed in there.
create table sign_ins (
  device text not null,
  person_id uuid not null references people,
  at timestamptz not null default now(),
  primary key (device, person_id)
);

create table house_rules (
  version integer primary key,
  data text not null,
  made_by text not null,
  made_at timestamptz not null default now()
);

create table lubricant_cards (
  code text primary key check (code <> ''),
  data text not null
);

create table wrenches (
  tag text primary key check (tag <> ''),
  data text not null,
  updated_at timestamptz not null default now()
);

create table packages (
  code text primary key check (code <> ''),
  name text not null
);

create table joints (
  id uuid primary key,
  tag text not null unique check (tag <> ''),
  name text not null,
  area text not null,
  equipment text not null,
  service text not null,
  family text not null,
  package text references packages,
  nameplate text not null default '',
  specification_version integer not null default 0,
  bolts integer not null default 0,
  make text not null default '',
  glyph text not null default 'waiting',
  stop text not null default 'read',
  summary text not null default '',
  present_run uuid,
  updated_at timestamptz not null default now(),
  search text generated always as (lower(tag || ' ' || name || ' ' || area || ' ' || equipment || ' ' || service || ' ' || make || ' ' || nameplate || ' ' || coalesce(package, ''))) stored
);
create index joints_area on joints (area, tag);
create index joints_make on joints (make, tag);
create index joints_updated on joints (updated_at desc, tag);
create index joints_glyph on joints (glyph, updated_at desc, tag);
-- The joints of an area that most want attention stand first.
create index joints_attention on joints (area, array_position(array['in_hand', 'stopped', 'turned_down', 'to_prove', 'due_again', 'ready', 'waiting', 'accepted'], glyph), tag);
create index joints_search on joints using gin (search gin_trgm_ops);

create table specifications (
  joint_id uuid not null references joints,
  version integer not null,
  data text not null,
  made_by text not null,
  reason text not null default '',
  made_at timestamptz not null default now(),
  primary key (joint_id, version)
);

create table plans (
  id uuid primary key,
  joint_id uuid not null references joints,
  version integer not null,
  specification_version integer not null,
  house_rules_version integer not null,
  data text not null,
  made_by text not null,
  approved_by text not null default '',
  reason text not null default '',
  made_at timestamptz not null default now(),
  unique (joint_id, version)
);

create table runs (
  id uuid primary key,
  joint_id uuid not null references joints,
  plan_id uuid not null references plans,
  last_seq integer not null default 0,
  last_hash text not null default '',
  started_by text not null,
  started_at timestamptz not null default now(),
  sealed_at timestamptz
);
alter table joints add foreign key (present_run) references runs;
create unique index runs_one_open on runs (joint_id) where sealed_at is null;

create table events (
  run_id uuid not null references runs,
  seq integer not null,
  id uuid not null unique,
  kind text not null,
  at timestamptz not null,
  received_at timestamptz not null,
  person_id uuid not null references people,
  wrench text not null default '',
  body text not null,
  prev_hash text not null,
  hash text not null,
  primary key (run_id, seq)
);
create index events_wrench on events (wrench, at) where wrench <> '';

create table records (
  number text primary key,
  run_id uuid not null unique references runs,
  joint_id uuid not null references joints,
  tag text not null,
  name text not null,
  area text not null,
  target text not null,
  tightened_by text not null,
  proved_by text not null,
  sealed_at timestamptz not null,
  mark text not null,
  file bytea not null
);
create index records_tag on records (tag, sealed_at);

create sequence record_numbers;

create table signing_keys (
  id text primary key,
  public_key bytea not null,
  private_key bytea not null,
  made_at timestamptz not null default now()
);

create table photos (
  id uuid primary key,
  run_id uuid not null references runs,
  person_id uuid not null references people,
  media_type text not null check (media_type in ('image/jpeg', 'image/png', 'image/webp')),
  bytes bytea not null,
  digest text not null,
  at timestamptz not null default now()
);

create table settings (
  key text primary key,
  value text not null
);

-- +goose StatementBegin
create function refuse_change() returns trigger language plpgsql as $$
begin
  raise exception '% of % is refused: what was recorded is not changed', tg_op, tg_table_name using errcode = 'insufficient_privilege';
end $$;
-- +goose StatementEnd

create trigger keep before update or delete on events for each row execute function refuse_change();
create trigger keep before update or delete on records for each row execute function refuse_change();
create trigger keep before update or delete on specifications for each row execute function refuse_change();
create trigger keep before update or delete on plans for each row execute function refuse_change();
create trigger keep before update or delete on photos for each row execute function refuse_change();
create trigger keep before update or delete on house_rules for each row execute function refuse_change();
create trigger keep_all before truncate on events for each statement execute function refuse_change();
create trigger keep_all before truncate on records for each statement execute function refuse_change();

grant usage on schema public to dynacor_app;
grant select, insert on events, records, specifications, plans, photos, house_rules, signing_keys to dynacor_app;
grant select, insert, update on people, sign_ins, lubricant_cards, wrenches, packages, joints, runs, settings to dynacor_app;
grant select, insert, update, delete on sessions to dynacor_app;
grant usage on sequence record_numbers to dynacor_app;

-- +goose Down
drop table settings, photos, signing_keys, records, events, plans, specifications, wrenches, lubricant_cards, house_rules, sign_ins, sessions cascade;
drop table runs, joints cascade;
drop table packages, people;
drop sequence record_numbers;
drop function refuse_change();
