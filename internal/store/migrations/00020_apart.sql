-- +goose Up
-- which way a plan goes: '' puts the joint together, 'apart' takes it apart
alter table plans add column way text not null default '';

-- +goose Down
alter table plans drop column way;
