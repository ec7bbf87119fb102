-- +goose Up

-- A new PIN ends what was signed in with the old one; a signature says which PIN it was given with.
alter table people add column pin_version integer not null default 1, add column pin_set_at timestamptz not null default now(), add column retired_at timestamptz;

-- Wrong PINs, each with where it was tried: waits grow with them, per person, per address and in all. A device on which the person signed in
-- before has a lane of its own, so that a stranger cannot lock anybody out.
create table pin_failures (
  id bigint generated always as identity primary key,
  at timestamptz not null,
  person_id uuid not null references people,
  lane text not null,
  address text not null
);
create index pin_failures_lane on pin_failures (person_id, lane, at desc);
create index pin_failures_address on pin_failures (address, at desc);
create index pin_failures_at on pin_failures (at desc);

-- Who is signed in where. The cookie's token is kept as a hash beside it.
create table logins (
  id uuid primary key,
  person_id uuid not null references people,
  pin_version integer not null,
  device_key text not null default '',
  address text not null default '',
  agent text not null default '',
  began_at timestamptz not null,
  seen_at timestamptz not null,
  ended_at timestamptz,
  ended_why text not null default ''
);
create index logins_person on logins (person_id, began_at desc);
create index logins_open on logins (seen_at) where ended_at is null;

grant select, insert, delete on pin_failures to dynacor_app;
grant select, insert on logins to dynacor_app;
grant update (seen_at, ended_at, ended_why) on logins to dynacor_app;

-- +goose Down
drop table logins, pin_failures;
alter table people drop column pin_version, drop column pin_set_at, drop column retired_at;
