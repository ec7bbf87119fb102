-- +goose Up
-- What a site's own measurements say of the gasket of a joint, as an engineer kept it. The last one counts; an empty one
-- goes back to the typical curve.
create table lab_fits (
  id uuid primary key,
  joint_id uuid not null references joints,
  fitted jsonb,
  reason text not null,
  made_by text not null,
  made_at timestamptz not null
);
create index lab_fits_joint on lab_fits (joint_id, made_at desc);
grant select, insert on lab_fits to dynacor_app;

-- +goose Down
drop table lab_fits;
