-- +goose Up
-- An area sorted by make was looked for among the makes of the whole plant.
create index joints_area_make on joints (area, make, tag);

-- +goose Down
drop index joints_area_make;
