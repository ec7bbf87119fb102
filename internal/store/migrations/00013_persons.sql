-- +goose Up

-- Who wrote and who approved a procedure, as persons: two of them may have one name, and one may change theirs.
alter table procedures add column made_by_id uuid references people;
alter table procedures add column approved_by_id uuid references people;
update procedures set made_by_id = (select id from people where name = made_by), approved_by_id = (select id from people where name = approved_by);

grant update (approved_by_id) on procedures to dynacor_app;

-- +goose Down
alter table procedures drop column approved_by_id;
alter table procedures drop column made_by_id;
