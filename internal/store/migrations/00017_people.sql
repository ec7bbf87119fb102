-- +goose Up

-- A person may have several roles, with commas between them; which there are, core says.
alter table people drop constraint people_role_check;

-- What a person has been trained for: a kind of tool or a family of joints, until when.
create table training (
  person_id uuid not null references people,
  about text not null check (about in ('tool', 'family')),
  code text not null,
  until date,
  note text not null default '',
  primary key (person_id, about, code)
);
grant select, insert, delete, update (until, note) on training to dynacor_app;
create trigger audit after insert on training referencing new table as fresh for each statement execute function audit_added('code');
create trigger audit_change after update or delete on training for each row execute function audit_row('code');

-- +goose Down
drop table training;
alter table people add constraint people_role_check check (role in ('technician', 'inspector', 'engineer', 'administrator')) not valid;
