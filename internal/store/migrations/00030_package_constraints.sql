-- +goose Up
-- What a planner knows of the joints of a work package beside their plans: each change is a version, those before stay.
-- Undoing makes a version like one before it: alike names that one (0: before all), else it is the version itself.
create table package_constraints (
  package text not null references packages,
  version int not null check (version > 0),
  alike int not null check (alike >= 0 and alike <= version),
  made_by text not null,
  made_at timestamptz not null,
  data jsonb not null,
  primary key (package, version)
);
grant select, insert on package_constraints to dynacor_app;

-- +goose Down
drop table package_constraints;
