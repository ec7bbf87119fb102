-- +goose Up
-- A shutdown holds several work packages: each of them is part of it. What holds others is part of none.
alter table packages add column part_of text references packages check (part_of <> code);
create index packages_part_of on packages (part_of);
grant update (part_of) on packages to dynacor_app;
-- The packages whose joints a package has: itself and its parts.
create view package_scope as
  select code, code as package from packages union all select part_of as code, code as package from packages where part_of is not null;
grant select on package_scope to dynacor_app;

-- +goose Down
drop view package_scope;
alter table packages drop column part_of;
