-- +goose Up
alter table house_rules add column reason text not null default '';

-- +goose Down
alter table house_rules drop column reason;
