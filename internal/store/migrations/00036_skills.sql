-- +goose Up

-- Skills by a name of their own, which work at some joints asks for: confined spaces, rope access.
alter table training drop constraint training_about_check;
alter table training add constraint training_about_check check (about in ('tool', 'family', 'skill'));

-- +goose Down
alter table training drop constraint training_about_check;
alter table training add constraint training_about_check check (about in ('tool', 'family')) not valid;
