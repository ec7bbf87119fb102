-- +goose Up

-- The areas of the site in its own order, each with a drawing of the plant line or none. An area that has joints and no
-- row here stands behind them.
create table areas (
  name text primary key,
  place integer not null,
  drawing text not null default ''
);
grant select, insert, delete, update (place, drawing) on areas to dynacor_app;
create trigger audit after insert on areas referencing new table as fresh for each statement execute function audit_added('name');
create trigger audit_change after update on areas for each row execute function audit_row('name');

-- A PIN that was given by somebody else is good for one sign-in, until then, and an own one is chosen with it.
alter table people add column pin_once_until timestamptz;
alter table people add column since timestamptz not null default now();
grant update (pin_once_until) on people to dynacor_app;

-- +goose Down
alter table people drop column pin_once_until, drop column since;
drop table areas;
