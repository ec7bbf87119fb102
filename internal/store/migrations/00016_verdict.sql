-- +goose Up

-- What a record says of its joint: accepted, or turned down. Every record from before was of an accepted joint.
alter table records add column verdict text not null default 'accepted';

-- +goose Down
alter table records drop column verdict;
