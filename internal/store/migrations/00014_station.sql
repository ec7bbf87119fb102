-- +goose Up

-- Where a joint stands is its station; a stop is a severity.
alter table joints rename column stop to station;

-- +goose StatementBegin
create or replace function audit_row() returns trigger language plpgsql security definer set search_path = public, pg_temp as $$
declare
  hidden text[] := array['pin_hash', 'token_hash', 'bytes', 'shown', 'file', 'search', 'updated_at', 'glyph', 'station', 'summary', 'present_run', 'last_seq', 'linked_at', 'about'];
  was jsonb := to_jsonb(old) - hidden;
  is_now jsonb := to_jsonb(new) - hidden;
  secret boolean := (to_jsonb(old) -> 'pin_hash') is distinct from (to_jsonb(new) -> 'pin_hash') or (to_jsonb(old) -> 'token_hash') is distinct from (to_jsonb(new) -> 'token_hash');
  a jsonb; b jsonb;
begin
  select coalesce(jsonb_object_agg(key, value), '{}') into a from jsonb_each(was) where is_now -> key is distinct from value;
  select coalesce(jsonb_object_agg(key, value), '{}') into b from jsonb_each(is_now) where was -> key is distinct from value;
  if a <> '{}' or b <> '{}' or secret then
    perform audit(tg_table_name || ' changed', tg_table_name || ' ' || coalesce(is_now ->> tg_argv[0], ''), a::text, (case when secret then b || '{"secret": "new"}' else b end)::text);
  end if;
  return null;
end $$;
-- +goose StatementEnd

-- Sign-ins have been kept with their devices for some time, and waits after wrong PINs are not kept with people.
drop table sign_ins;
alter table people drop column failed_attempts, drop column locked_until;

-- +goose Down
alter table people add column failed_attempts integer not null default 0, add column locked_until timestamptz;
create table sign_ins (
  device text not null,
  person_id uuid not null references people,
  at timestamptz not null default now(),
  primary key (device, person_id)
);
grant select, insert, update on sign_ins to dynacor_app;
alter table joints rename column station to stop;

-- +goose StatementBegin
create or replace function audit_row() returns trigger language plpgsql security definer set search_path = public, pg_temp as $$
declare
  hidden text[] := array['pin_hash', 'token_hash', 'bytes', 'shown', 'file', 'search', 'updated_at', 'glyph', 'stop', 'summary', 'present_run', 'last_seq', 'linked_at', 'about'];
  was jsonb := to_jsonb(old) - hidden;
  is_now jsonb := to_jsonb(new) - hidden;
  secret boolean := (to_jsonb(old) -> 'pin_hash') is distinct from (to_jsonb(new) -> 'pin_hash') or (to_jsonb(old) -> 'token_hash') is distinct from (to_jsonb(new) -> 'token_hash');
  a jsonb; b jsonb;
begin
  select coalesce(jsonb_object_agg(key, value), '{}') into a from jsonb_each(was) where is_now -> key is distinct from value;
  select coalesce(jsonb_object_agg(key, value), '{}') into b from jsonb_each(is_now) where was -> key is distinct from value;
  if a <> '{}' or b <> '{}' or secret then
    perform audit(tg_table_name || ' changed', tg_table_name || ' ' || coalesce(is_now ->> tg_argv[0], ''), a::text, (case when secret then b || '{"secret": "new"}' else b end)::text);
  end if;
  return null;
end $$;
-- +goose StatementEnd
