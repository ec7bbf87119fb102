-- +goose Up
-- Turns, stretches and movements are counted as torques are. What is there follows from the records and is read anew.
delete from record_pulls;
alter table record_pulls add column quantity text not null;
alter table record_pulls drop constraint record_pulls_pkey, add primary key (number, quantity, position);

-- +goose Down
delete from record_pulls where quantity <> 'torque';
alter table record_pulls drop constraint record_pulls_pkey, drop column quantity, add primary key (number, position);
