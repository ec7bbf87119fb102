-- +goose Up
-- What somebody saw on a walk that is at no joint of the register: a tag that is not known, a spill, a missing guard. It is
-- open until somebody who leads says what became of it.
create table plant_notes (
  id uuid primary key,
  tag text not null, -- as it was read; '' without one
  words text not null,
  seen_at timestamptz not null,
  at timestamptz not null, -- signed
  person_id uuid not null references people,
  photo text not null default '',
  photo_sha256 text not null default '',
  picture bytea, -- as it was sent
  shown bytea, -- drawn anew
  closed_words text not null default '', -- what became of it
  closed_by text not null default '',
  closed_at timestamptz
);
create index plant_notes_open on plant_notes (at) where closed_at is null;
grant select, insert, update (picture, shown, closed_words, closed_by, closed_at) on plant_notes to dynacor_app;

-- A picture comes once, and stays.
-- +goose StatementBegin
create function keep_picture() returns trigger language plpgsql as $$
begin
  if old.picture is not null and (new.picture is distinct from old.picture or new.shown is distinct from old.shown) then
    raise exception 'the picture of a note stays as it came' using errcode = 'restrict_violation';
  end if;
  return new;
end $$;
-- +goose StatementEnd
create trigger keep before update on plant_notes for each row execute function keep_picture();

-- +goose Down
drop table plant_notes;
drop function keep_picture();
