-- +goose Up
-- Plans that were put in force for the joints of a work package, with what was asked. Those before stay.
create table shift_plans (
  package text not null references packages,
  version int not null check (version > 0),
  made_by text not null,
  made_at timestamptz not null,
  ends_at timestamptz not null, -- of its last shift
  ask jsonb not null,
  plan jsonb not null,
  primary key (package, version)
);
grant select, insert on shift_plans to dynacor_app;

-- +goose Down
drop table shift_plans;
