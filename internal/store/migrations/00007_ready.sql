-- +goose Up

-- The server looks whether the schema is the one it needs.
grant select on goose_db_version to dynacor_app;

-- +goose Down
revoke select on goose_db_version from dynacor_app;
