-- +goose Up

-- What was changed that records lean on, by whom, with what stood there before and after. Written by the database itself, whichever way the change comes; whoever
-- serves cannot write, change or remove a line. What is secret is left out.
create table audit_log (
  id bigint generated always as identity primary key,
  at timestamptz not null default clock_timestamp(),
  who text not null,
  action text not null,
  subject text not null,
  before text not null default '',
  after text not null default ''
);
create index audit_log_subject on audit_log (subject, id);
create trigger keep before update or delete on audit_log for each row execute function refuse_change();
create trigger keep_all before truncate on audit_log for each statement execute function refuse_change();

-- +goose StatementBegin
create function audit(action text, subject text, before text, after text) returns void language sql security definer set search_path = public, pg_temp as $$
  insert into audit_log (who, action, subject, before, after)
  values (coalesce(nullif(current_setting('dynacor.actor', true), ''), 'account ' || session_user), left(action, 80), left(subject, 200), left(before, 20000), left(after, 20000));
$$;
-- +goose StatementEnd

-- One row that was changed: its table and key, and only the columns that differ.
-- +goose StatementBegin
create function audit_row() returns trigger language plpgsql security definer set search_path = public, pg_temp as $$
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

-- Rows that were added at once: one line, with as many of them as fit.
-- +goose StatementBegin
create function audit_added() returns trigger language plpgsql security definer set search_path = public, pg_temp as $$
declare
  hidden text[] := array['pin_hash', 'token_hash', 'bytes', 'shown', 'file', 'search'];
  n bigint; names text; rows text;
begin
  select count(*) into n from fresh;
  if n = 0 then return null; end if;
  select string_agg(x ->> tg_argv[0], ', '), jsonb_agg(x - hidden)::text into names, rows from (select to_jsonb(f) x from fresh f limit 50) few;
  perform audit(tg_table_name || ' added', tg_table_name || ' ' || case when n > 3 then n || ' rows' else names end, '', rows);
  return null;
end $$;
-- +goose StatementEnd

create trigger audit after insert on people referencing new table as fresh for each statement execute function audit_added('name');
create trigger audit_change after update on people for each row execute function audit_row('name');
create trigger audit after insert on tools referencing new table as fresh for each statement execute function audit_added('tag');
create trigger audit_change after update on tools for each row execute function audit_row('tag');
create trigger audit after insert on joints referencing new table as fresh for each statement execute function audit_added('tag');
create trigger audit_change after update of tag, name, area, equipment, service, family, package, nameplate, specification_version on joints for each row execute function audit_row('tag');
create trigger audit after insert on specifications referencing new table as fresh for each statement execute function audit_added('joint_id');
create trigger audit after insert on house_rules referencing new table as fresh for each statement execute function audit_added('version');
create trigger audit after insert on library_values referencing new table as fresh for each statement execute function audit_added('code');
create trigger audit after insert on procedures referencing new table as fresh for each statement execute function audit_added('code');
create trigger audit_change after update on procedures for each row execute function audit_row('code');
create trigger audit after insert on signing_keys referencing new table as fresh for each statement execute function audit_added('id');
create trigger audit_change after update on signing_keys for each row execute function audit_row('id');
create trigger audit after insert on tool_checks referencing new table as fresh for each statement execute function audit_added('tag');
create trigger audit after insert on tool_files referencing new table as fresh for each statement execute function audit_added('tag');
create trigger audit after insert on devices referencing new table as fresh for each statement execute function audit_added('tag');
create trigger audit_change after update of token_hash on devices for each row execute function audit_row('tag');
create trigger audit_change after update on doubts for each row execute function audit_row('tag');

-- The daily anchor: a root over every head that is new since the one before, chained and signed.
create table anchors (
  number integer primary key,
  at timestamptz not null,
  hash text not null,
  body text not null,
  signature text not null
);
create table anchor_leaves (
  anchor integer not null references anchors,
  kind text not null check (kind in ('run', 'record', 'audit')),
  id text not null,
  seq integer not null,
  hash text not null,
  primary key (anchor, kind, id)
);
create index anchor_leaves_of on anchor_leaves (kind, id, seq);
create trigger keep before update or delete on anchors for each row execute function refuse_change();
create trigger keep_all before truncate on anchors for each statement execute function refuse_change();
create trigger keep before update or delete on anchor_leaves for each row execute function refuse_change();
create trigger keep_all before truncate on anchor_leaves for each statement execute function refuse_change();

grant select on audit_log to dynacor_app;
revoke execute on function audit(text, text, text, text) from public;
grant execute on function audit(text, text, text, text) to dynacor_app;
grant select, insert on anchors, anchor_leaves to dynacor_app;

-- +goose Down
drop table anchor_leaves, anchors;
drop trigger audit on people; drop trigger audit_change on people;
drop trigger audit on tools; drop trigger audit_change on tools;
drop trigger audit on joints; drop trigger audit_change on joints;
drop trigger audit on specifications; drop trigger audit on house_rules; drop trigger audit on library_values;
drop trigger audit on procedures; drop trigger audit_change on procedures;
drop trigger audit on signing_keys; drop trigger audit_change on signing_keys;
drop trigger audit on tool_checks; drop trigger audit on tool_files;
drop trigger audit on devices; drop trigger audit_change on devices; drop trigger audit_change on doubts;
drop function audit_row(); drop function audit_added(); drop function audit(text, text, text, text);
drop table audit_log;
