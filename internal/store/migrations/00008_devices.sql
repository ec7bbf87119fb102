-- +goose Up

-- A device proves itself by a key of its own, made on it and never leaving it. spoke_at bounds what it may say was done when: nothing that it
-- had not sent by then was done before it, but for a backlog that it told of.
create table device_keys (
  id text primary key check (id <> ''),
  public_key bytea not null,
  made_at timestamptz not null,
  spoke_at timestamptz not null,
  backlog integer not null default 0,
  backlog_from timestamptz
);

-- Who was at work on which device, from when to when: an event counts for its person when it was made in between.
create table device_shifts (
  id bigint generated always as identity primary key,
  key_id text not null references device_keys,
  person_id uuid not null references people,
  began_at timestamptz not null,
  ended_at timestamptz
);
create unique index device_shifts_open on device_shifts (key_id) where ended_at is null;
create index device_shifts_person on device_shifts (key_id, person_id, began_at);

-- What the device sent, as a digest, and its signature over it. Empty: kept before devices had keys, or made by the server.
alter table events add column sent_sha256 text not null default '', add column device_key text not null default '', add column proof text not null default '';

-- Bytes of all its events: a run that cannot be sealed any more takes nothing more.
alter table runs add column size integer not null default 0;
update runs r set size = coalesce((select sum(length(e.body)) from events e where e.run_id = r.id), 0);

-- The digest of the picture as it was sent, and the picture drawn anew, which alone is shown.
alter table photos add column sha256 text not null default '', add column shown bytea;

-- Events made before this moment on a device without a key are taken once, and marked.
insert into settings (key, value) values ('device_keys_since', to_char(now() at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"'));

grant select, insert on device_keys, device_shifts to dynacor_app;
grant update (spoke_at, backlog, backlog_from) on device_keys to dynacor_app;
grant update (ended_at) on device_shifts to dynacor_app;

-- +goose Down
delete from settings where key = 'device_keys_since';
alter table photos drop column sha256, drop column shown;
alter table runs drop column size;
alter table events drop column sent_sha256, drop column device_key, drop column proof;
drop table device_shifts, device_keys;
