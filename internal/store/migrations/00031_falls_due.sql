-- +goose Up
-- Where somebody's mail goes; empty: nowhere.
alter table people add column email text not null default '';
grant update (email) on people to dynacor_app;

-- Calendars that programs subscribe to by a secret address: of a person, or of the site (no person). One that was
-- withdrawn stays, and gives nothing.
create table feeds (
  id uuid primary key,
  token_hash text not null unique,
  person_id uuid references people,
  made_by text not null,
  made_at timestamptz not null,
  read_at timestamptz,
  withdrawn_at timestamptz
);
create index feeds_person on feeds (person_id) where withdrawn_at is null;
grant select, insert, update (read_at, withdrawn_at) on feeds to dynacor_app;

-- Who was told of a day what falls due: once.
create table reminders (
  day date not null,
  person_id uuid not null references people,
  asked_at timestamptz not null,
  sent_at timestamptz,
  nothing boolean not null default false, -- there was nothing to tell
  primary key (day, person_id)
);
grant select, insert, update (sent_at, nothing) on reminders to dynacor_app;

-- +goose Down
drop table reminders;
drop table feeds;
alter table people drop column email;
